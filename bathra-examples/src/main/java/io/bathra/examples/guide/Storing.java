package io.bathra.examples.guide;

import io.bathra.FlushReport;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.InvalidChangesException;

/** Units of work: what is added, when it is written, what a failure leaves. */
public final class Storing {
    private Storing() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Fleet.MODEL, "jdbc:h2:mem:storing")) {
            store.schema().createMissing();

            try (UnitOfWork work = store.begin()) {
                Trip trip = new Trip(new Truck("HH-BT 1"), 120);
                work.add(trip); // the truck comes along: it is new, and the trip reaches it
                System.out.println(work.standing(trip));
                FlushReport written = work.commit();
                System.out.println(written);
            } // closed without commit: rolled back

            int trips = store.call(work -> {
                work.add(new Truck("HH-BT 2"));
                return work.from(Trip.class).list().size();
            }); // committed on return, rolled back on an exception
            System.out.println(trips + " trip");

            try (UnitOfWork work = store.begin()) {
                Truck truck = new Truck("far too long a plate");
                work.add(new Trip(truck, -3));
                try {
                    work.flush();
                } catch (InvalidChangesException refused) {
                    System.out.println(refused.getMessage()); // all of it at once, before any SQL
                }
                System.out.println(work.standing(truck) + " still; mend it and flush again");
                work.discard();
            }
        }
    }
}
