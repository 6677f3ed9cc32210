package io.bathra.examples;

import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Movement;
import io.bathra.examples.harbour.MovementKind;
import io.bathra.examples.harbour.Operator;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Vessel;
import java.time.LocalDateTime;

/** Both sides of an association stay in step; what is new and reached is stored; what is taken out may go. */
public final class Associations {
    private static final LocalDateTime ETA = LocalDateTime.of(2026, 5, 4, 6, 30);

    private Associations() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:associations")) {
            store.schema().createMissing();
            store.run(work -> {
                Operator operator = new Operator("NLR", "Nordlicht Reederei");
                Vessel vessel = new Vessel("9074729", "Nordlicht");
                vessel.operator().set(operator);
                PortCall call = new PortCall("2026-0001", vessel, ETA);
                call.movements().add(new Movement(MovementKind.ARRIVAL, ETA.plusMinutes(40)));
                call.movements().add(new Movement(MovementKind.DEPARTURE, ETA.plusHours(30)));
                work.add(call); // the vessel, its operator and the movements are new, and the call reaches them
                System.out.println(work.commit());
            });

            store.run(work -> {
                PortCall call = work.from(PortCall.class).one();
                System.out.println(
                        "the key of its vessel, unread: " + call.vessel().key());
                Vessel vessel = call.vessel().get(); // read now, for all calls that the query brought
                System.out.println(vessel + " runs for "
                        + vessel.operator().get().name() + ", " + vessel.calls().size() + " call");

                PortCall next = new PortCall("2026-0002", vessel, ETA.plusWeeks(2));
                work.add(next); // from here on both sides are kept in step
                System.out.println("the other side shows it: " + vessel.calls().contains(next));
                Movement departure = call.movements().asList().get(1);
                departure.call().set(next); // moved from one call to the other
                System.out.println(
                        call.movements().size() + " and " + next.movements().size() + " movements");
                call.movements().clear(); // the movements of a call are nothing without it: removeOrphans()
                System.out.println(work.plan());
                work.commit();
            });

            long movements = store.call(work -> {
                work.remove(work.from(Vessel.class)
                        .where(the(Vessel::imo).is("9074729"))
                        .one());
                System.out.println(work.commit()); // calls and movements fall to the database's cascade
                return work.from(Movement.class).count();
            });
            System.out.println(movements + " movements are left");
        }
    }
}
