package io.bathra.examples.guide;

import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.examples.harbour.CallStatus;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;

/** Changes found by comparing, rows changed unread, rows changed by query. */
public final class Changing {
    record VesselForm(String name, Integer built) {}

    private Changing() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:changing")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> season.calls().forEach(work::add));

            try (UnitOfWork work = store.begin()) {
                PortCall call = work.require(PortCall.class, 1L);
                call.delayTo(call.eta().plusHours(3)); // no call says "save"
                System.out.println(work.changes());
                System.out.println(work.plan());
                work.commit();
            }

            store.run(work -> {
                work.row(Vessel.class, 7L).set(Vessel::name, "Nordlicht II"); // its row is not read
                work.carry(new VesselForm("Nordlicht III", 2019), work.require(Vessel.class, 8L), null);
                System.out.println(work.commit());
            });

            long changed = store.call(work -> work.from(PortCall.class)
                    .where(the(PortCall::status).is(CallStatus.EXPECTED))
                    .update(
                            the(PortCall::status).to(CallStatus.CANCELLED),
                            the(PortCall::remark).to("the harbour is closed")));
            System.out.println(changed + " rows by one statement");

            store.run(work -> {
                work.call(inner -> inner.from(Vessel.class)
                        .where(number(Vessel::built).isNull())
                        .update(number(Vessel::built).to(1990))); // work within work, taken back alone when it fails
                Vessel vessel = work.require(Vessel.class, 7L);
                vessel.rename("never to be");
                work.discard(vessel);
                System.out.println(vessel.name());
            });
        }
    }
}
