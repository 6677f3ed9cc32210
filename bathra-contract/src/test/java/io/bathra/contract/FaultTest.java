package io.bathra.contract;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.UnitOfWork;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.sql.SQLException;
import java.sql.SQLTimeoutException;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Whatever fails in a flush or commit, the database and the objects are as before, and the unit can go on. */
@OnEachDatabase
class FaultTest extends BoatContract {
    FaultTest(TestDatabase database) {
        super(database);
    }

    private enum Fault {
        ERROR,
        TIME_OUT,
        CONNECTION_LOST;

        /** SQLite's driver has codes of its own for what ends a transaction. */
        SQLException exception(TestDatabase database) {
            return switch (this) {
                case ERROR -> new SQLException("out of order", "58000");
                case TIME_OUT ->
                    new SQLTimeoutException("out of time", database == TestDatabase.SQLITE ? null : "57014");
                case CONNECTION_LOST -> new SQLException("gone", "08006");
            };
        }
    }

    /**
     * Keys, pairs, parts, swapped unique values, versions, deletes: whichever statement fails, nothing has happened.
     */
    @Test
    void everyStatementOfAMixedFlushMayFailInEveryWay() {
        int statements = mixedFlush(Integer.MAX_VALUE, Fault.ERROR, false);
        assertThat(statements).isGreaterThan(8);
        for (Fault fault : Fault.values()) {
            for (int i = 1; i <= statements; i++) {
                mixedFlush(i, fault, false);
                mixedFlush(i, fault, true);
            }
        }
    }

    /** Answers with the number of statements; all of it is rolled back at the end. */
    private int mixedFlush(int failing, Fault fault, boolean afterAnother) {
        try (UnitOfWork work = store.begin()) {
            Mixture made = new Mixture(work, afterAnother);
            Boat a = made.a;
            Boat fresh = made.fresh;
            String plan = work.plan().toString();
            List<String> changes = words(work.changes());

            faults.clear();
            if (failing < Integer.MAX_VALUE) {
                faults.on(failing).failsWith(() -> fault.exception(database));
            }
            if (failing == Integer.MAX_VALUE) {
                work.flush();
            } else {
                assertThatThrownBy(work::flush).isInstanceOf(StatementException.class);
            }
            int statements = faults.statements();
            faults.clear();
            if (fault == Fault.CONNECTION_LOST) {
                assertThatThrownBy(work::flush)
                        .isInstanceOf(UnitStateException.class)
                        .hasMessageContaining("is broken");
            } else if (failing < Integer.MAX_VALUE) {
                assertThat(words(work.changes())).as("objects are as before").isEqualTo(changes);
                assertThat(work.plan()).hasToString(plan);
                assertThat(fresh.id).isNull();
                assertThat(a.revision).isZero();
                work.flush();
                assertThat(work.changes()).isEmpty();
                work.rollback();
                assertThat(words(work.changes())).as("to be done again").containsAll(changes);
            }
            if (fault != Fault.CONNECTION_LOST) {
                work.rollback();
                work.discard();
                assertThat(work.changes()).isEmpty();
            }
            theDatabaseIsAsBefore();
            return statements;
        }
    }

    /** Changes of every kind. */
    private final class Mixture {
        final Boat a;
        final Boat fresh = new Boat("C");

        Mixture(UnitOfWork work, boolean afterAnother) {
            a = boat(work, 1);
            Boat b = boat(work, 2);
            Owner owner = a.owner.get();
            if (afterAnother) {
                owner.name = "flushed before";
                work.flush();
            }
            a.code = "B";
            b.code = "A";
            a.crew.set(0, "Jan");
            a.crew.add("Kees");
            b.friends.clear();
            fresh.crew.add("Mies");
            fresh.owner.set(owner);
            fresh.friends.add(owner);
            work.remove(boat(work, 3));
            work.add(fresh);
        }
    }

    private void theDatabaseIsAsBefore() {
        store.run(other -> assertThat(other.from(Boat.class)
                        .orderBy(the(Boat::code).ascending())
                        .list())
                .as("the database is as before")
                .allSatisfy(boat -> assertThat(boat.revision).isZero())
                .extracting(boat -> boat.code + boat.crew + boat.friends.size() + boat.owner.get().name)
                .containsExactly("A[Piet, Klaas]1Aline", "B[Piet, Klaas]1Aline", "C[Piet, Klaas]1Aline"));
    }

    /** Several flushes, with parts, pairs and removals, and then the commit fails. */
    @Test
    void aFailedCommitTakesAllFlushesBack() {
        for (Fault fault : Fault.values()) {
            try (UnitOfWork work = store.begin()) {
                Mixture made = new Mixture(work, true);
                List<String> changes = words(work.changes());
                work.flush();
                made.a.seats = 9;
                work.flush();
                faults.onCommit().failsWith(() -> fault.exception(database));
                assertThatThrownBy(work::commit)
                        .isInstanceOf(
                                fault == Fault.CONNECTION_LOST
                                        ? CommitUnknownException.class
                                        : StatementException.class);
                assertThat(made.fresh.id).isNull();
                assertThat(made.a.revision).isZero();
                assertThat(made.a.crew).containsExactly("Jan", "Klaas", "Kees");
                if (fault == Fault.CONNECTION_LOST) {
                    continue;
                }
                assertThat(words(work.changes())).containsAll(changes);
                theDatabaseIsAsBefore();
                work.flush();
                assertThat(work.changes()).isEmpty();
            }
            theDatabaseIsAsBefore();
        }
    }
}
