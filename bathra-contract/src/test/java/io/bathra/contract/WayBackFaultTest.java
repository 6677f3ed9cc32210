package io.bathra.contract;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Isolation;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.answer.Locking;
import io.bathra.attr.Converter;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.LockTimeout;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.junit.Faults;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.sql.SQLException;
import org.junit.jupiter.api.Test;

/** Whoever fails on the way back leaves no transaction open, keeps no connection, and hides no earlier failure. */
@OnEachDatabase
class WayBackFaultTest extends BoatContract {
    WayBackFaultTest(TestDatabase database) {
        super(database);
    }

    record Mark(String text) {}

    static final class Crate {
        Long id;
        Mark mark;
        String place = "hold";

        Crate() {}

        Mark mark() {
            return mark;
        }
    }

    private static final Converter<Mark, String> MARK = Converter.to(
            String.class,
            mark -> {
                if (mark.text().isEmpty()) {
                    throw new IllegalStateException("a mark that nobody can read");
                }
                return mark.text();
            },
            Mark::new);

    @Test
    void aConverterThatFailsKeepsNoConnection() {
        Faults crates = Faults.in(database.empty());
        Store own = Trips.open(
                Model.of("crates", Entity.of(Crate.class, Crate::new).column(Crate::mark, MARK)), crates.source());
        own.schema().createMissing();
        Crate crate = new Crate();
        crate.mark = new Mark("fragile");
        own.run(work -> work.add(crate));
        assertThatThrownBy(() -> {
                    try (UnitOfWork work = own.begin()) {
                        Crate read = work.require(Crate.class, crate.id);
                        read.place = "deck";
                        work.flush();
                        read.mark = new Mark("");
                        work.commit();
                    }
                })
                .hasMessageContaining("nobody can read")
                .satisfies(first -> assertThat(first.getSuppressed())
                        .anySatisfy(again -> assertThat(again).hasMessageContaining("nobody can read")));
        assertThat(crates.open()).isZero();
        try (UnitOfWork work = own.begin()) {
            Crate read = work.require(Crate.class, crate.id);
            assertThat(read.place).isEqualTo("hold");
            read.place = "deck";
            work.flush();
            read.mark = new Mark("");
            work.rollback();
            read.mark = new Mark("this side up");
            work.commit();
            assertThat(crates.open()).isZero();
        }
        Crate stored = own.call(work -> work.require(Crate.class, crate.id));
        assertThat(stored.place).isEqualTo("deck");
        assertThat(stored.mark.text()).isEqualTo("this side up");
    }

    /** The row is read again after the rollback, and then its parts cannot be. */
    @Test
    void whatIsReadAgainByHalfIsNotTracked() {
        try (UnitOfWork work = store.begin()) {
            work.sql("update boat set name = 'never' where code = 'B'").execute();
            Boat read = boat(work, 2);
            assertThat(read.name).isEqualTo("never");
            faults.onStatement(sql -> sql.contains("boat_crew"))
                    .always()
                    .failsWith(() -> new SQLException("nobody can read that", "58000"));
            work.rollback();
            faults.clear();
            assertThat(work.standing(read)).isEqualTo(Standing.UNTRACKED);
            work.commit();
            assertThat(boat(work, 2).name).isEqualTo("boat B");
        }
    }

    @Test
    void aLockThatIsRefusedLeavesTheOthersHeld() {
        if (database == TestDatabase.SQLITE) {
            return; // whoever holds a row there holds them all
        }
        try (UnitOfWork work = store.begin();
                UnitOfWork other = store.begin()) {
            Boat a = held(work, 1);
            held(other, 2);
            assertThatThrownBy(() -> held(work, 2)).isInstanceOf(LockTimeout.class);
            other.rollback();
            assertThatThrownBy(() -> held(other, 1)).isInstanceOf(LockTimeout.class);
            other.rollback();
            a.name = "held all the time";
            assertThat(held(work, 2).code).isEqualTo("B");
            work.commit();
        }
        assertThat(store.call(work -> boat(work, 1)).name).isEqualTo("held all the time");
    }

    private static Boat held(UnitOfWork work, long id) {
        return work.from(Boat.class)
                .where(the(Boat::code).is(id == 1 ? "A" : "B"))
                .forUpdate(Locking.NO_WAIT)
                .one();
    }

    @Test
    void whatIsHeldOrWasReadUnderALevelIsNotBegunAgainInSilence() {
        try (UnitOfWork work = store.begin()) {
            held(work, 1);
            goesOnOnlyAfterARollback(work);
        }
        try (UnitOfWork work = store.begin(Terms.retrying(1).isolation(Isolation.SERIALIZABLE))) {
            boat(work, 1);
            if (database == TestDatabase.SQLITE) {
                return; // which has one level alone
            }
            goesOnOnlyAfterARollback(work);
        }
        try (UnitOfWork work = store.begin()) {
            boat(work, 1);
            fails(work);
            work.add(new Boat("D"));
            assertThatCode(work::commit).doesNotThrowAnyException();
        }
    }

    private void goesOnOnlyAfterARollback(UnitOfWork work) {
        fails(work);
        assertThatThrownBy(work::commit)
                .isInstanceOf(UnitStateException.class)
                .hasMessageContaining("call rollback() and do the work again");
        work.rollback();
        assertThat(boat(work, 1).code).isEqualTo("A");
        work.commit();
    }

    private void fails(UnitOfWork work) {
        faults.on(1).failsWith(() -> new SQLException("out of order", "58000"));
        assertThatThrownBy(() -> work.from(Boat.class).list()).isInstanceOf(StatementException.class);
        faults.clear();
    }

    @Test
    void aConflictWhoseRollbackFailsTooIsStillAConflict() {
        try (UnitOfWork work = store.begin()) {
            Boat a = read(work, 1);
            store.run(other -> boat(other, 1).name = "theirs");
            a.name = "mine";
            faults.onRollback().always().failsWith(() -> new SQLException("no way back", "08006"));
            assertThatThrownBy(work::commit).isInstanceOfSatisfying(ConcurrentChangeException.class, conflict -> {
                assertThat(conflict.isRetryable()).isTrue();
                assertThat(conflict)
                        .hasMessageContaining(keys.in("Boat {boat 1} (changed or removed by somebody else)"));
                assertThat(conflict.getSuppressed()).isNotEmpty();
            });
            assertThatThrownBy(work::commit)
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("is broken");
            faults.clear();
        }
        assertThat(store.call(work -> boat(work, 1)).name).isEqualTo("theirs");
    }

    @Test
    void aListenerThatFailsOnCloseHidesNothing() {
        assertThatThrownBy(() -> store.run(work -> {
                    work.listen(new io.bathra.UnitListener() {
                        @Override
                        public void rolledBack(UnitOfWork unit) {
                            throw new IllegalStateException("listener");
                        }
                    });
                    Boat boat = new Boat("D");
                    work.add(boat);
                    work.flush();
                    assertThat(work.standing(boat)).isEqualTo(Standing.CLEAN);
                    throw new IllegalArgumentException("the caller's own");
                }))
                .hasMessage("the caller's own")
                .satisfies(own -> assertThat(own.getSuppressed())
                        .anySatisfy(again -> assertThat(again).hasMessage("listener")));
        assertThat(store.<Long, RuntimeException>call(
                        work -> work.from(Boat.class).count()))
                .isEqualTo(3L);
    }
}
