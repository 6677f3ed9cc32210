package io.bathra.examples;

import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.error.RestrictViolation;
import io.bathra.examples.harbour.Berth;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Movement;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import java.time.LocalDateTime;

/** What goes along when something is removed, and what stands in the way. */
public final class TakingAway {
    private TakingAway() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:away")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> {
                season.movements().forEach(work::add); // calls, vessels, operators, berths and pilots come along
                season.calls().forEach(work::add);
                season.licences().forEach(work::add);
            });

            store.run(work -> {
                Vessel vessel = work.from(Vessel.class)
                        .where(the(Vessel::imo).is("9100621"))
                        .one();
                work.remove(vessel); // its calls, their movements and pilots, and its certificates go along
                System.out.println(work.plan());
                System.out.println(work.commit());
            });

            store.run(work -> {
                PortCall call = work.from(PortCall.class)
                        .orderBy(the(PortCall::eta).ascending())
                        .first()
                        .orElseThrow();
                Movement last = call.movements().asList().get(call.movements().size() - 1);
                call.movements().remove(last); // an orphan, which is removed
                work.row(Vessel.class, 2L).set(Vessel::name, "Renamed unseen");
                System.out.println(work.plan());
            });

            try {
                store.run(work -> work.remove(work.from(Berth.class)
                        .orderBy(the(Berth::code).ascending())
                        .first()
                        .orElseThrow()));
            } catch (RestrictViolation refused) {
                System.out.println(refused.getMessage()); // calls lead to the berth, by a link without a delete rule
            }

            long old = store.call(work -> work.from(PortCall.class)
                    .where(the(PortCall::eta).below(LocalDateTime.of(2026, 4, 8, 0, 0)))
                    .delete());
            System.out.println(old + " calls of the first week are gone, by one statement");
        }
    }
}
