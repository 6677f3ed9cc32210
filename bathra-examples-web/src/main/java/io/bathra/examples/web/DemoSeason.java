package io.bathra.examples.web;

import io.bathra.spring.Units;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
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

    private static List<Map<String, String>> season() {
        List<String> vessels =
                List.of("Nordgull", "Ternros", "Lunahav", "Strandvarde", "Kittiwake", "Seeadler", "Skua");
        List<Map<String, String>> forms = new ArrayList<>();
        for (int i = 1; i <= 35; i++) {
            forms.add(Map.of(
                    "number", String.format("26-%06d", i),
                    "vessel", vessels.get(i % vessels.size()),
                    "berth", "B" + (1 + i % 5),
                    "eta", String.format("2026-04-%02dT%02d:%02d", 1 + i / 2, (7 * i) % 24, (i % 4) * 15),
                    "draughtCentimetres", Integer.toString(380 + 10 * (i % 30)),
                    "remark", i % 6 == 0 ? "wants a pilot" : ""));
        }
        return forms;
    }
}
