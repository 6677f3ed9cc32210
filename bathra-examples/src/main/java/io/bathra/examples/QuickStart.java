package io.bathra.examples;

import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Movement;
import io.bathra.examples.harbour.MovementKind;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Vessel;
import java.time.LocalDateTime;
import java.util.List;

/** The first minutes with Bathra: create, store, ask, change. */
public final class QuickStart {
    private QuickStart() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:quickstart")) {
            store.schema().createMissing();

            LocalDateTime eta = LocalDateTime.of(2026, 4, 1, 6, 30);
            Vessel vessel = new Vessel("9074729", "Nordlicht");
            PortCall call = new PortCall("2026-0001", vessel, eta);
            call.movements().add(new Movement(MovementKind.ARRIVAL, eta.plusMinutes(40)));
            call.movements().add(new Movement(MovementKind.DEPARTURE, eta.plusHours(30)));

            store.run(work -> {
                work.add(call); // the vessel and the movements come along: they are new, and the call reaches them
                System.out.println(work.plan()); // what would be executed, in order; nothing is
            });

            store.run(work -> {
                List<PortCall> due = work.from(PortCall.class)
                        .where(the(PortCall::eta).below(eta.plusDays(1)))
                        .where(text(PortCall::vessel, Vessel::name).startsWith("Nord"))
                        .orderBy(the(PortCall::eta).ascending())
                        .list();
                due.get(0).delayTo(eta.plusHours(3)); // no call says "save": the change is found
                System.out.println(work.commit()); // one update of one row
                System.out.println(work.trace()); // every statement, with rows, time and cause
            });
        }
    }
}
