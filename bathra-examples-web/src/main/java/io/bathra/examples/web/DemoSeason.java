package io.bathra.examples.web;

import io.bathra.spring.Units;
import java.util.ArrayList;
import java.util.List;
import org.springframework.boot.autoconfigure.condition.ConditionalOnProperty;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/** Something to look at, where there is nothing and {@code harbour.demo} is true. */
@Component
@ConditionalOnProperty("harbour.demo")
class DemoSeason {
    private final Units units;
    private final BookingDesk desk;

    DemoSeason(Units units, BookingDesk desk) {
        this.units = units;
        this.desk = desk;
    }

    @EventListener(ApplicationReadyEvent.class)
    void fill() {
        long there = units.call(work -> work.from(Booking.class).count());
        if (there == 0) {
            desk.take(season());
        }
    }

    private static List<BookingForm> season() {
        List<String> vessels =
                List.of("Nordgull", "Ternros", "Lunahav", "Strandvarde", "Kittiwake", "Seeadler", "Skua");
        List<BookingForm> forms = new ArrayList<>();
        for (int i = 1; i <= 35; i++) {
            forms.add(new BookingForm(
                    String.format("26-%06d", i),
                    vessels.get(i % vessels.size()),
                    "B" + (1 + i % 5),
                    String.format("2026-04-%02dT%02d:%02d", 1 + i / 2, (7 * i) % 24, (i % 4) * 15),
                    Integer.toString(380 + 10 * (i % 30)),
                    i % 6 == 0 ? "wants a pilot" : null,
                    null));
        }
        return forms;
    }
}
