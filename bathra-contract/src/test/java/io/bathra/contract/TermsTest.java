package io.bathra.contract;

import static io.bathra.Isolation.SERIALIZABLE;
import static io.bathra.Terms.retrying;
import static io.bathra.bulk.On.on;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Savepoint;
import io.bathra.Standing;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.answer.Locking;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.LockTimeout;
import io.bathra.error.UniqueViolation;
import io.bathra.error.UnitStateException;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;

/** Savepoints and work within work, units on terms, and work that is done again. */
@OnEachDatabase
class TermsTest extends BoatContract {
    TermsTest(TestDatabase database) {
        super(database);
    }

    private List<String> names() {
        return store.call(work -> work.from(Boat.class).orderBy(the(Boat::code).ascending()).list().stream()
                .map(Boat::name)
                .toList());
    }

    @Test
    void aUnitGoesBackToASavepoint() {
        try (UnitOfWork work = store.begin()) {
            boat(work, 1).name = "first";
            Savepoint place = work.savepoint();
            boat(work, 2).name = "second";
            Boat fresh = new Boat("D");
            work.add(fresh);
            work.flush();
            Savepoint later = work.savepoint();
            place.rollback();
            assertThat(fresh.id).isNull();
            assertThat(work.standing(fresh)).isEqualTo(Standing.UNTRACKED);
            assertThat(work.standing(boat(work, 1))).isEqualTo(Standing.CLEAN);
            assertThat(work.standing(boat(work, 2))).isEqualTo(Standing.CLEAN);
            assertThat(boat(work, 2).name).isEqualTo("boat B");
            assertThatThrownBy(later::rollback)
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("the savepoint is gone");
            place.rollback();
            assertThat(work.commit().total().updated()).isEqualTo(1);
            assertThatThrownBy(place::rollback).isInstanceOf(UnitStateException.class);
        }
        assertThat(names()).containsExactly("first", "boat B", "boat C");
    }

    @Test
    void workWithinWorkIsTakenBackAlone() {
        store.run(work -> {
            boat(work, 1).name = "outer";
            assertThatThrownBy(() -> work.run(inner -> {
                        boat(inner, 2).name = "inner";
                        inner.add(new Boat("C"));
                        inner.flush();
                    }))
                    .isInstanceOf(UniqueViolation.class);
            work.discard();
            int answer = work.call(inner -> {
                boat(inner, 3).name = "second inner";
                inner.run(innermost -> boat(innermost, 3).seats = 3);
                return 42;
            });
            assertThat(answer).isEqualTo(42);
            Savepoint outside = work.savepoint();
            assertThatThrownBy(() -> work.run(inner -> outside.rollback()))
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("outside of this piece of work");
            assertThatThrownBy(() -> work.run(UnitOfWork::commit))
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("the outermost piece of work");
        });
        assertThat(names()).containsExactly("outer", "boat B", "second inner");
    }

    @Test
    void aUnitThatWritesNothing() {
        try (UnitOfWork work = store.begin(Terms.reading())) {
            Boat boat = boat(work, 1);
            assertThat(work.from(Boat.class).count()).isEqualTo(3);
            work.commit();
            assertThatThrownBy(() -> work.from(Boat.class).delete())
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("read-only");
            boat.name = "changed";
            boat.crew.clear();
            assertThat(work.standing(boat)).isEqualTo(Standing.CLEAN);
            work.commit();
            assertThat(work.from(Boat.class).list()).hasSize(3).contains(boat);
            assertThat(boat.name).isEqualTo("boat A");
            assertThat(boat.owner.get().boats).hasSize(3);
            assertThatThrownBy(() -> work.add(new Boat("D"))).hasMessageContaining("read-only");
            assertThatThrownBy(() -> work.remove(boat)).hasMessageContaining("read-only");
            assertThatThrownBy(() -> work.discard(boat)).hasMessageContaining("read-only");
        }
        assertThat(names()).contains("boat A");
        store.run(work -> boat(work, 1).name = "written after");
        assertThat(names()).contains("written after");
    }

    @Test
    void aUnitThatWritesNothingAndNoticesWhatIsSetInVain() {
        try (UnitOfWork work = store.begin(Terms.reading().noticing())) {
            Boat boat = boat(work, 1);
            Boat other = boat(work, 2);
            work.commit();
            store.run(third -> boat(third, 2).name = "written by somebody else");
            boat.name = "changed";
            assertThat(work.changes().get(0)).hasToString("Boat 1.name: boat A -> changed");
            assertThat(work.from(Boat.class).list()).hasSize(3).contains(boat);
            assertThat(boat.name).isEqualTo("changed");
            assertThat(other.name)
                    .as("what was not set is as others have left it")
                    .startsWith("written");
            assertThatThrownBy(() -> work.add(new Boat("D"))).hasMessageContaining("read-only");
            assertThat(work.commit().rows()).isEmpty();
            work.discard();
            assertThat(boat.name).isEqualTo("boat A");
            assertThat(work.changes()).isEmpty();
        }
        assertThat(names()).contains("boat A").doesNotContain("changed");
    }

    @Test
    void aUnitKnowsWhetherARollbackTakesAnythingBack() {
        try (UnitOfWork work = store.begin()) {
            assertThat(work.hasUncommitted()).isFalse();
            boat(work, 1).name = "set";
            work.add(new Boat("D"));
            assertThat(work.hasUncommitted()).as("nothing was written yet").isFalse();
            List<Runnable> writing = List.of(
                    work::flush,
                    () -> work.bulk(Boat.class).upsert(List.of(new Boat("E")), on(Boat::code)),
                    () -> work.from(Boat.class)
                            .where(the(Boat::code).is("A"))
                            .update(the(Boat::name).to("by query")),
                    () -> work.sql("update boat set name = 'by hand' where code = 'A'")
                            .execute(),
                    () -> work.sql("select count(*) from boat").list());
            for (Runnable one : writing) {
                one.run();
                assertThat(work.hasUncommitted()).isTrue();
                work.commit();
                assertThat(work.hasUncommitted()).isFalse();
                boat(work, 1);
                assertThat(work.hasUncommitted()).isFalse();
            }
            boat(work, 1).name = "taken back";
            work.flush();
            work.rollback();
            assertThat(work.hasUncommitted()).isFalse();
        }
    }

    @Test
    void workIsDoneAgainWhenTheReasonMayHaveGone() {
        AtomicInteger attempts = new AtomicInteger();
        store.run(retrying(3), work -> {
            Boat boat = boat(work, 1);
            if (attempts.incrementAndGet() < 3) {
                work.rollback(); // SQLite has one writer
                store.run(other -> boat(other, 1).seats = attempts.get());
            }
            boat.name = "mine";
        });
        assertThat(attempts).hasValue(3);
        assertThat(names()).contains("mine");
        attempts.set(0);
        assertThatThrownBy(() -> store.run(retrying(2), work -> {
                    Boat boat = boat(work, 1);
                    work.rollback();
                    store.run(other -> boat(other, 1).seats = 10 + attempts.incrementAndGet());
                    boat.name = "never";
                }))
                .isInstanceOf(ConcurrentChangeException.class);
        assertThat(attempts).hasValue(2);
        assertThatThrownBy(() -> store.run(retrying(5), work -> {
                    attempts.incrementAndGet();
                    throw new IllegalStateException("for good");
                }))
                .hasMessage("for good");
        assertThat(attempts).hasValue(3);
        assertThatThrownBy(() -> retrying(0)).isInstanceOf(IllegalArgumentException.class);
    }

    /**
     * Ten threads, each with units of its own, count up the same versioned rows, in opposite order, and add the same
     * pairs.
     */
    @Test
    void tenThreadsLoseNothing() {
        List<CompletableFuture<Void>> threads = new ArrayList<>();
        for (int thread = 0; thread < 10; thread++) {
            boolean upwards = thread % 2 == 0;
            threads.add(CompletableFuture.runAsync(
                    () -> {
                        for (int i = 0; i < 5; i++) {
                            store.run(retrying(200), work -> {
                                Owner owner = work.require(Owner.class, keys.of("owner", 1));
                                for (long id : upwards ? List.of(1L, 2L) : List.of(2L, 1L)) {
                                    Boat boat = boat(work, id);
                                    boat.seats = boat.seats == null ? 1 : boat.seats + 1;
                                    boat.friends.add(owner);
                                    work.flush();
                                }
                            });
                        }
                    },
                    command -> new Thread(command).start()));
        }
        threads.forEach(CompletableFuture::join);
        store.run(work -> {
            assertThat(boat(work, 1).seats).isEqualTo(50);
            assertThat(boat(work, 2).seats).isEqualTo(50);
            assertThat(boat(work, 1).revision()).isEqualTo(50);
            assertThat(boat(work, 1).friends).hasSize(1);
        });
    }

    /**
     * Each transaction reads what the other writes: as if one came after the other, one of them has to be done again.
     */
    @Test
    void serializableWorkIsAsIfItWereDoneInTurn() {
        List<CompletableFuture<Void>> both = new ArrayList<>();
        for (long own : List.of(1L, 2L)) {
            both.add(CompletableFuture.runAsync(() -> store.run(retrying(50).isolation(SERIALIZABLE), work -> {
                int all = work.from(Boat.class).list().stream()
                        .mapToInt(boat -> boat.seats == null ? 0 : boat.seats)
                        .sum();
                boat(work, own).seats = all + 1;
            })));
        }
        both.forEach(CompletableFuture::join);
        int sum = store.call(work -> boat(work, 1).seats + boat(work, 2).seats);
        // H2's strictest level is a snapshot, in which each may read what the other is about to change
        assertThat(sum).isIn(3, database == TestDatabase.H2 ? 2 : 3);
    }

    @Test
    void rowsAreHeldUntilTheEnd() {
        try (UnitOfWork holder = store.begin();
                UnitOfWork other = store.begin(Terms.reading())) {
            assertThat(holder.from(Boat.class)
                            .where(
                                    the(Boat::owner, Owner::name).is("Aline"),
                                    the(Boat::code).is("A"))
                            .forUpdate()
                            .list())
                    .hasSize(1);
            assertThatThrownBy(() -> other.from(Boat.class).forUpdate().list())
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("read-only");
            assertThatThrownBy(() -> holder.from(Boat.class).forUpdate().keys())
                    .hasMessageContaining("holds rows for an update, but is asked for keys");
            assertThatThrownBy(() -> holder.from(Boat.class)
                            .forUpdate()
                            .as(the(Boat::code))
                            .list())
                    .hasMessageContaining("is asked for values");
            if (database == TestDatabase.SQLITE) {
                return; // the holder has the whole database
            }
            try (UnitOfWork third = store.begin()) {
                assertThat(third.from(Boat.class)
                                .forUpdate(Locking.SKIP_LOCKED)
                                .page(3, null)
                                .items())
                        .hasSize(2);
                assertThat(third.from(Boat.class).forUpdate(Locking.SKIP_LOCKED).list())
                        .extracting(Boat::code)
                        .containsExactly("B", "C");
                assertThatThrownBy(() -> third.from(Boat.class)
                                .forUpdate(Locking.NO_WAIT)
                                .list())
                        .isInstanceOf(LockTimeout.class);
            }
        }
    }
}
