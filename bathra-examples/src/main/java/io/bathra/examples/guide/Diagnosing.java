package io.bathra.examples.guide;

import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.TooManyStatementsException;
import io.bathra.error.UniqueViolation;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import io.bathra.query.Query;
import io.bathra.trace.TraceLine;
import java.time.LocalDateTime;

/** What will be done, what was done, what was done too often, and what went wrong. */
public final class Diagnosing {
    private Diagnosing() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:diagnosing")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> season.calls().forEach(work::add));

            try (UnitOfWork work = store.begin()) {
                Query<PortCall> late =
                        work.from(PortCall.class).where(the(PortCall::eta).above(LocalDateTime.of(2026, 9, 1, 0, 0)));
                System.out.println(late.sql()); // the statement and its values; nothing is executed
                System.out.println(late.explain()); // the database's own plan
                late.list().forEach(call -> call.vessel().get());
                for (TraceLine line : work.trace().statements()) {
                    System.out.println(line.rows() + " rows for " + line.cause());
                }
            }

            try (UnitOfWork work = store.begin()) {
                for (long key = 1; key <= 20; key++) {
                    work.require(Vessel.class, key).calls().size();
                }
                work.trace().repeated().forEach(System.out::println); // with what would mend it
                try (var budget = work.trace().expectAtMost(1)) {
                    work.require(Vessel.class, 30L);
                    work.require(Vessel.class, 31L);
                    System.out.println(budget.used() + " were used");
                } catch (TooManyStatementsException tooMany) {
                    System.out.println(tooMany.getMessage());
                }
            }

            try (UnitOfWork work = store.begin()) {
                work.add(new Vessel("9312119", "Twin"));
                work.problems().forEach(System.out::println); // for a form: the database is asked as well
                try {
                    work.flush();
                } catch (UniqueViolation taken) {
                    System.out.println(taken.place());
                }
                work.discard();
            }

            Store watched = store.heardBy(started -> (ended, failure) -> {
                if (failure != null || ended.time().toMillis() > 100) {
                    System.out.println("unit " + ended.unit() + ", " + ended.purpose() + ": " + ended.sql());
                }
            });
            watched.run(work -> work.require(Vessel.class, 1L).rename("Elbe II"));
        }
    }
}
