package io.bathra.examples.guide;

import static io.bathra.query.Ask.along;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.UnreadLinkException;
import io.bathra.examples.harbour.Berth;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import java.util.List;
import java.util.Optional;

/** Entities by key, the identity map, links that are read for everybody at once. */
public final class Looking {
    private Looking() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:looking")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> {
                season.calls().forEach(work::add);
                season.movements().forEach(work::add);
            });

            try (UnitOfWork work = store.begin()) {
                Optional<Berth> found = work.find(Berth.class, 7L);
                Berth berth = work.require(Berth.class, 7L); // an error where there is none
                System.out.println("one row, one object: " + (found.orElseThrow() == berth));
                List<Berth> some = work.findAll(Berth.class, List.of(7L, 8L, 9L)); // one statement for the two others
                System.out.println(
                        some.size() + " berths by " + work.trace().statements().size() + " statements");
            }

            try (UnitOfWork work = store.begin()) {
                List<PortCall> calls = work.from(PortCall.class)
                        .orderBy(the(PortCall::eta).ascending())
                        .limit(50)
                        .list();
                System.out.println(
                        "the foreign key, for nothing: " + calls.get(0).vessel().key());
                for (PortCall call : calls) {
                    call.vessel().get().name(); // the first one reads the vessels of all fifty calls
                }
                System.out.println(work.trace().statements().size()
                        + " statements for 50 calls, their vessels, and the certificates that are parts of these");
            }

            List<PortCall> kept = store.call(work -> work.from(PortCall.class)
                    .alongWith(along(PortCall::vessel, Vessel::operator)) // joined
                    .alongWith(PortCall::movements) // one more statement, for all calls
                    .limit(10)
                    .list());
            System.out.println(
                    kept.get(0).vessel().get() + ", " + kept.get(0).movements().size() + " movements");
            try {
                kept.get(0).berth().get(); // not read along, and the unit is closed
            } catch (UnreadLinkException unread) {
                System.out.println(unread.getMessage());
            }
        }
    }
}
