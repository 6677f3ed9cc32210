package io.bathra.examples.web;

import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.examples.web.BookingDesk.ImportReport;
import java.net.URI;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.server.ResponseStatusException;

/** Bookings over HTTP. The revision of a booking is its ETag; whoever changes one says which he has seen. */
@RestController
@RequestMapping("/api/bookings")
class BookingController {
    private static final int MOST = 100;

    private final BookingDesk desk;

    BookingController(BookingDesk desk) {
        this.desk = desk;
    }

    @GetMapping
    Map<String, Object> list(@RequestParam(defaultValue = "10") int size, @RequestParam @Nullable String after) {
        if (size < 1 || size > MOST) {
            throw new ResponseStatusException(HttpStatus.BAD_REQUEST, "size is from 1 to " + MOST + ", not " + size);
        }
        Page<Booking> page = desk.list(size, after == null ? null : mark(after));
        Map<String, Object> answer = new LinkedHashMap<>();
        answer.put("items", page.items().stream().map(BookingController::shown).toList());
        answer.put("next", page.next().map(Mark::toString).orElse(null));
        return answer;
    }

    private static Mark mark(String text) {
        try {
            return Mark.parse(text);
        } catch (IllegalArgumentException e) {
            throw new ResponseStatusException(HttpStatus.BAD_REQUEST, "after: " + e.getMessage(), e);
        }
    }

    @GetMapping("/{id}")
    ResponseEntity<Map<String, Object>> show(@PathVariable long id) {
        return answer(ResponseEntity.ok(), desk.show(id));
    }

    @PostMapping(consumes = MediaType.APPLICATION_JSON_VALUE)
    ResponseEntity<Map<String, Object>> create(@RequestBody BookingForm form) {
        Booking booking = desk.create(form);
        return answer(ResponseEntity.created(URI.create("/api/bookings/" + booking.id())), booking);
    }

    @PutMapping("/{id}")
    ResponseEntity<Map<String, Object>> change(
            @PathVariable long id,
            @RequestHeader(name = "If-Match", required = false) @Nullable String seen,
            @RequestBody BookingForm form) {
        try {
            return answer(ResponseEntity.ok(), desk.change(id, form, revision(seen)));
        } catch (RuntimeException e) {
            throw LostRace.of(e, form);
        }
    }

    @DeleteMapping("/{id}")
    ResponseEntity<Void> delete(
            @PathVariable long id, @RequestHeader(name = "If-Match", required = false) @Nullable String seen) {
        desk.delete(id, revision(seen));
        return ResponseEntity.noContent().build();
    }

    /** Lines of CSV: number, vessel, berth, eta, draughtCentimetres, remark, with a heading and without quotes. */
    @PostMapping(path = "/import", consumes = "text/csv")
    ImportReport take(@RequestBody String csv) {
        List<BookingForm> forms = new ArrayList<>();
        csv.lines().skip(1).filter(line -> !line.isBlank()).forEach(line -> {
            String[] cells = line.split(",", -1);
            String[] all = java.util.Arrays.copyOf(cells, 6);
            forms.add(new BookingForm(all[0], all[1], all[2], all[3], all[4], all[5], null));
        });
        return desk.take(forms);
    }

    private static int revision(@Nullable String seen) {
        if (seen == null) {
            throw new ResponseStatusException(
                    HttpStatus.PRECONDITION_REQUIRED, "say in If-Match which revision you have seen, such as \"3\"");
        }
        try {
            return Integer.parseInt(seen.replace("\"", ""));
        } catch (NumberFormatException e) {
            throw new ResponseStatusException(
                    HttpStatus.BAD_REQUEST, "If-Match holds a revision such as \"3\", not " + seen, e);
        }
    }

    private static ResponseEntity<Map<String, Object>> answer(ResponseEntity.BodyBuilder builder, Booking booking) {
        return builder.eTag("\"" + booking.revision() + "\"").body(shown(booking));
    }

    private static Map<String, Object> shown(Booking booking) {
        Map<String, Object> shown = new LinkedHashMap<>();
        shown.put("id", booking.id());
        shown.put("number", booking.number());
        shown.put("vessel", booking.vessel());
        shown.put("berth", booking.berth());
        shown.put("eta", booking.eta());
        shown.put("draughtCentimetres", booking.draughtCentimetres());
        shown.put("remark", booking.remark());
        shown.put("revision", booking.revision());
        return shown;
    }
}
