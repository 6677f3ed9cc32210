package io.bathra.examples.guide;

import io.bathra.FlushReport;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.InvalidChangesException;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Vessel;
import java.time.LocalDateTime;

/** Units of work: what is added, when it is written, what a failure leaves. */
public final class Storing {
    private static final LocalDateTime ETA = LocalDateTime.of(2026, 4, 1, 6, 30);

    private Storing() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:storing")) {
            store.schema().createMissing();

            try (UnitOfWork work = store.begin()) {
                PortCall call = new PortCall("2026-0001", new Vessel("9074729", "Nordlicht"), ETA);
                work.add(call); // the vessel comes along: it is new, and the call reaches it
                System.out.println(work.standing(call));
                FlushReport written = work.commit();
                System.out.println(written);
            } // closed without commit: rolled back

            long calls = store.call(work -> {
                work.add(new Vessel("9321483", "Lunahav"));
                return work.from(PortCall.class).count();
            }); // committed on return, rolled back on an exception
            System.out.println(calls + " call");

            try (UnitOfWork work = store.begin()) {
                Vessel vessel = new Vessel("93214834", "Strandvarde");
                work.add(new PortCall("the next one", vessel, ETA));
                try {
                    work.flush();
                } catch (InvalidChangesException refused) {
                    System.out.println(refused.getMessage()); // all of it at once, before any SQL
                }
                System.out.println(work.standing(vessel) + " still; mend it and flush again");
                work.discard();
            }
        }
    }
}
