package io.bathra.examples;

import static io.bathra.query.Ask.count;
import static io.bathra.query.Ask.link;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.answer.Pending;
import io.bathra.examples.harbour.Berth;
import io.bathra.examples.harbour.CallStatus;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import java.time.LocalDateTime;
import java.util.List;

/**
 * A form is being filled in: nothing may be stored so far, yet questions are to be answered as if it were. The database
 * answers them, over its rows and the pending ones together, and nobody else sees anything.
 */
public final class OverlayQueries {
    record Load(CallStatus status, long calls) {}

    private OverlayQueries() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:overlay")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> season.calls().forEach(work::add));

            store.run(work -> {
                work.pending(Pending.OVERLAY);
                LocalDateTime day = LocalDateTime.of(2026, 9, 20, 0, 0);
                Berth berth =
                        work.from(Berth.class).where(the(Berth::code).is("N1")).one();
                Vessel vessel = work.from(Vessel.class).first().orElseThrow();

                PortCall draft = new PortCall("too long a number for its column", vessel, day.plusHours(6));
                draft.berth().set(berth);
                work.add(draft); // the number is not lawful yet, so this could not be flushed

                List<PortCall> sameDay = work.from(PortCall.class)
                        .where(
                                link(PortCall::berth).is(berth),
                                the(PortCall::eta).atLeast(day),
                                the(PortCall::eta).below(day.plusDays(1)))
                        .list();
                System.out.println("at berth N1 that day: " + sameDay.size() + ", the draft among them: "
                        + sameDay.contains(draft));

                vessel.rename("Zephyr");
                System.out.println("found by its new name: "
                        + (work.from(PortCall.class)
                                        .where(text(PortCall::vessel, Vessel::name)
                                                .is("Zephyr"))
                                        .count()
                                > 0));

                List<Load> loads = work.from(PortCall.class)
                        .groupBy(the(PortCall::status))
                        .orderBy(the(PortCall::status).ascending())
                        .as(Load::new, the(PortCall::status), count())
                        .list();
                System.out.println(loads); // the pending call is counted

                long stored = store.call(other -> other.from(PortCall.class).count());
                System.out.println("others see " + stored + " calls");
                work.problems().forEach(System.out::println); // what stands in the way of storing it
                work.discard();
            });
        }
    }
}
