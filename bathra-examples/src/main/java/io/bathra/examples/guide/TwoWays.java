package io.bathra.examples.guide;

import static io.bathra.Terms.reading;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import io.bathra.page.Recording;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;

/** One list made in two ways: by a loop that asks again and again, and at once. What both have executed is a page. */
public final class TwoWays {
    private static final LocalDateTime LATE = LocalDateTime.of(2026, 9, 1, 0, 0);

    private TwoWays() {}

    /**
     * Makes the list, and the page.
     *
     * @param args the file for the page; {@code two-ways.html} where there is none
     */
    public static void main(String[] args) {
        Path file = Path.of(args.length == 0 ? "two-ways.html" : args[0]);
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:ways;DB_CLOSE_DELAY=-1")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> season.calls().forEach(work::add));

            Recording detour = Recording.of(store);
            List<String> oneByOne = oneByOne(detour.store());

            Recording straight = Recording.of(store);
            List<String> atOnce = atOnce(straight.store());

            straight.page("Read along").since(detour.page("One by one")).write(file);
            System.out.println(oneByOne.size() + " lines one by one, the same at once: " + oneByOne.equals(atOnce));
            System.out.println("what both have executed: " + file);
        }
    }

    /** A unit for each call, and in it a question for whatever is missing: what nobody should do. */
    private static List<String> oneByOne(Store store) {
        List<String> lines = new ArrayList<>();
        List<Long> keys = store.call(
                reading(),
                work -> work
                        .from(PortCall.class)
                        .where(the(PortCall::eta).above(LATE))
                        .orderBy(the(PortCall::number).ascending())
                        .keys()
                        .stream()
                        .map(Long.class::cast)
                        .toList());
        for (Long key : keys) {
            lines.add(store.call(reading(), work -> {
                PortCall call = work.require(PortCall.class, key);
                Vessel vessel = work.require(Vessel.class, call.vessel().get().id());
                return line(call, vessel);
            }));
        }
        return lines;
    }

    private static List<String> atOnce(Store store) {
        return store.call(
                reading(),
                work -> work
                        .from(PortCall.class)
                        .where(the(PortCall::eta).above(LATE))
                        .orderBy(the(PortCall::number).ascending())
                        .alongWith(PortCall::vessel)
                        .list()
                        .stream()
                        .map(call -> line(call, call.vessel().get()))
                        .toList());
    }

    private static String line(PortCall call, Vessel vessel) {
        return call.number() + " " + vessel.name() + ", "
                + vessel.certificates().size() + " certificates";
    }
}
