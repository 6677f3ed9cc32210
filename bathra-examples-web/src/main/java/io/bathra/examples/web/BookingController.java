package io.bathra.examples.web;

import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.error.InvalidChangesException;
import io.bathra.examples.web.BookingDesk.ImportReport;
import io.bathra.spring.FormProblems;
import java.io.InputStream;
import java.net.URI;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.validation.BindingResult;
import org.springframework.validation.MapBindingResult;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
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
        answer.put("items", page.items());
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
    ResponseEntity<Booking> show(@PathVariable long id) {
        return answer(ResponseEntity.ok(), desk.show(id));
    }

    @PostMapping(consumes = MediaType.APPLICATION_JSON_VALUE)
    ResponseEntity<Booking> create(@RequestBody Map<String, String> form) {
        Booking booking = desk.create(form);
        return answer(ResponseEntity.created(URI.create("/api/bookings/" + booking.id())), booking);
    }

    @PutMapping("/{id}")
    ResponseEntity<Booking> change(
            @PathVariable long id,
            @RequestHeader(name = "If-Match", required = false) @Nullable String seen,
            @RequestBody Map<String, String> form) {
        return answer(ResponseEntity.ok(), desk.change(id, form, revision(seen)));
    }

    /** What is absent stays, what is null is cleared (RFC 7396). */
    @PatchMapping(path = "/{id}", consumes = "application/merge-patch+json")
    ResponseEntity<Booking> patch(
            @PathVariable long id,
            @RequestHeader(name = "If-Match", required = false) @Nullable String seen,
            InputStream body) {
        return answer(ResponseEntity.ok(), desk.patch(id, body, revision(seen)));
    }

    /** A form of a page without a script. */
    @PostMapping(consumes = MediaType.APPLICATION_FORM_URLENCODED_VALUE)
    ResponseEntity<Object> submit(@RequestParam Map<String, String> form) {
        BindingResult told = new MapBindingResult(form, "booking");
        try {
            Booking booking = desk.create(form);
            return ResponseEntity.created(URI.create("/api/bookings/" + booking.id()))
                    .body(booking);
        } catch (InvalidChangesException e) {
            FormProblems.tell(e.problems(), told);
            return ResponseEntity.unprocessableContent()
                    .body(told.getFieldErrors().stream()
                            .map(error -> error.getField() + " " + error.getDefaultMessage())
                            .toList());
        }
    }

    @DeleteMapping("/{id}")
    ResponseEntity<Void> delete(
            @PathVariable long id, @RequestHeader(name = "If-Match", required = false) @Nullable String seen) {
        desk.delete(id, revision(seen));
        return ResponseEntity.noContent().build();
    }

    /** Lines of CSV without quotes; the first one names the fields. */
    @PostMapping(path = "/import", consumes = "text/csv")
    ImportReport take(@RequestBody String csv) {
        String[] names = csv.lines().findFirst().orElse("").split(",", -1);
        List<Map<String, String>> forms = new ArrayList<>();
        csv.lines().skip(1).filter(line -> !line.isBlank()).forEach(line -> {
            String[] cells = line.split(",", -1);
            Map<String, String> form = new LinkedHashMap<>();
            for (int i = 0; i < Math.min(cells.length, names.length); i++) {
                form.put(names[i], cells[i]);
            }
            forms.add(form);
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

    private static ResponseEntity<Booking> answer(ResponseEntity.BodyBuilder builder, Booking booking) {
        return builder.eTag("\"" + booking.revision() + "\"").body(booking);
    }
}
