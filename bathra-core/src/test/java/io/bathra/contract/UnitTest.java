package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import io.bathra.PendingChange;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.Conflict;
import io.bathra.error.Deadlock;
import io.bathra.error.LockTimeout;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.error.UnreadLinkException;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.FaultySource;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.sql.SQLException;
import java.sql.SQLTimeoutException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.CyclicBarrier;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What a unit of work says of itself, what comes in from outside, and what others do meanwhile. */
@OnEachDatabase
class UnitTest {
    static final class Owner {
        private Long id;
        private String name;
        private final Links<Boat> boats = Links.empty();

        Owner() {}

        Owner(String name) {
            this.name = name;
        }

        String name() {
            return name;
        }

        Links<Boat> boats() {
            return boats;
        }
    }

    static final class Boat {
        private Long id;
        private String code;
        private String name;
        private Integer seats;
        private int revision;
        private List<String> crew = new ArrayList<>();
        private final Link<Owner> owner = Link.empty();
        private final Links<Owner> friends = Links.empty();

        Boat() {}

        Boat(String code) {
            this.code = code;
            this.name = "boat " + code;
        }

        String code() {
            return code;
        }

        String name() {
            return name;
        }

        int revision() {
            return revision;
        }

        List<String> crew() {
            return crew;
        }

        Link<Owner> owner() {
            return owner;
        }

        Links<Owner> friends() {
            return friends;
        }

        @Override
        public String toString() {
            return code;
        }
    }

    private static final Model MODEL = Model.of(
            "boats",
            Entity.of(Owner.class, Owner::new).links(Owner::boats, Boat::owner),
            Entity.of(Boat.class, Boat::new)
                    .column(Boat::code, required(), length(5), unique())
                    .parts(Boat::crew)
                    .pivot(Boat::friends)
                    .version(Boat::revision));

    private final TestDatabase database;
    private final FaultySource source;
    private final Store store;

    UnitTest(TestDatabase database) {
        this.database = database;
        source = new FaultySource(database.empty());
        store = Store.open(MODEL, source.wrapped());
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        store.run(work -> {
            Owner owner = new Owner("Aline");
            for (String code : List.of("A", "B", "C")) {
                Boat boat = new Boat(code);
                boat.crew.addAll(List.of("Piet", "Klaas"));
                boat.friends.add(owner);
                owner.boats.add(boat);
            }
            work.add(owner);
        });
    }

    @AfterEach
    void everyConnectionIsGivenBack() {
        assertThat(source.open()).isZero();
    }

    private static Boat boat(UnitOfWork work, long id) {
        return work.require(Boat.class, id);
    }

    private static List<String> words(List<PendingChange> changes) {
        return changes.stream().map(PendingChange::toString).toList();
    }

    /** Leaves the database to others, on which SQLite insists. */
    private static <T> T read(UnitOfWork work, Class<T> type, long id) {
        T found = work.require(type, id);
        work.rollback();
        return found;
    }

    @Test
    void whatIsTrackedAndPendingIsTold() {
        try (UnitOfWork work = store.begin()) {
            Boat boat = boat(work, 1);
            assertThat(boat.owner.get().boats).hasSize(3);
            assertThat(work.tracked()).hasToString("{Boat=3, Owner=1}");
            boat.name = "renamed";
            boat.crew.remove("Piet");
            boat.crew.add("Jan");
            work.remove(boat(work, 2));
            assertThat(words(work.changes()))
                    .contains(
                            "Boat 1.name: boat A -> renamed",
                            "Boat 1.revision: 0 -> 1",
                            "Boat 1.crew[0].element: Piet -> Jan",
                            "Boat 1.crew[0].position: 1000 -> 3000",
                            "Boat 2: removed");
            work.discard();
        }
    }

    @Test
    void valuesThatAreTakenAreToldBeforeAnythingIsWritten() {
        store.run(work -> {
            Boat fresh = new Boat("A");
            work.add(fresh);
            boat(work, 2).code = "C";
            assertThat(work.problems())
                    .extracting(Object::toString)
                    .containsExactly(
                            "Boat (new #1).code = A: must be unique, but Boat 1 is stored with it; change one of them",
                            "Boat 2.code = C: must be unique, but Boat 3 is stored with it; change one of them");
            work.remove(boat(work, 1));
            boat(work, 3).code = "B";
            assertThat(work.problems()).as("freed in the same flush").isEmpty();
        });
    }

    @Test
    void nothingIsForgottenWhileItHasChanges() {
        try (UnitOfWork work = store.begin()) {
            Boat boat = boat(work, 1);
            Boat other = boat(work, 2);
            Owner owner = boat.owner.get();
            assertThat(owner.boats).hasSize(3);
            boat.name = "renamed";
            assertThatThrownBy(() -> work.forget(boat))
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("Boat 1.name: boat A -> renamed");
            assertThatThrownBy(work::forgetAll).isInstanceOf(UnitStateException.class);
            work.forget(other);
            assertThat(work.standing(other)).isEqualTo(Standing.UNTRACKED);
            assertThat(words(work.changes())).hasSize(2);
            assertThat(owner.boats).as("read anew").hasSize(3).doesNotContain(other);
            assertThatThrownBy(() -> other.friends.size()).isInstanceOf(UnreadLinkException.class);
            work.forget(owner);
            assertThat(work.changes()).as("links to it are unread again").hasSize(2);
            assertThat(boat.owner.get()).isNotSameAs(owner);
            work.discard(boat);
            work.forgetAll();
            assertThat(work.tracked()).isEmpty();
            assertThat(boat(work, 1)).isNotSameAs(boat);
        }
    }

    @Test
    void discardedChangesAreAsIfTheyHadNeverBeenMade() {
        try (UnitOfWork work = store.begin()) {
            Boat boat = boat(work, 1);
            Boat second = boat(work, 2);
            Owner owner = boat.owner.get();
            assertThat(boat.friends).hasSize(1);
            boat.name = null;
            boat.crew = List.of("nobody");
            boat.owner.clear();
            boat.friends.clear();
            Boat fresh = new Boat("D");
            fresh.owner.set(owner);
            second.friends.add(new Owner("new"));
            work.remove(boat(work, 3));
            work.discard();
            assertThat(work.changes()).isEmpty();
            assertThat(work.plan().isEmpty()).isTrue();
            assertThat(boat.name).isEqualTo("boat A");
            assertThat(boat.crew).containsExactly("Piet", "Klaas");
            assertThat(boat.owner.get()).isSameAs(owner);
            assertThat(boat.friends).containsExactly(owner);
            assertThat(owner.boats).hasSize(3).doesNotContain(fresh);
            assertThat(work.standing(fresh)).isEqualTo(Standing.UNTRACKED);
        }
    }

    @Test
    void anEntityIsRefreshedWhateverItHas() {
        try (UnitOfWork work = store.begin()) {
            Boat boat = read(work, Boat.class, 1);
            boat.name = "mine";
            boat.crew.clear();
            assertThat(boat.friends).hasSize(1);
            work.rollback();
            store.run(other -> {
                boat(other, 1).name = "theirs";
                boat(other, 1).crew.add("Jan");
                boat(other, 1).friends.clear();
            });
            work.refresh(boat);
            assertThat(boat.name).isEqualTo("theirs");
            assertThat(boat.crew).containsExactly("Piet", "Klaas", "Jan");
            assertThat(boat.friends).as("pairs are read anew").isEmpty();
            assertThat(work.changes()).isEmpty();
            work.rollback();
            store.run(other -> other.remove(boat(other, 1)));
            assertThatThrownBy(() -> work.refresh(boat))
                    .isInstanceOf(NoSuchRowException.class)
                    .hasMessage("Boat 1 is not there any more; somebody removed it");
        }
    }

    @Test
    void anObjectThatWasEditedElsewhereIsAdopted() {
        Boat edited = store.call(work -> {
            Boat boat = boat(work, 1);
            assertThat(boat.owner.get().name).isEqualTo("Aline");
            return boat;
        });
        edited.name = "edited";
        edited.crew.add("Jan");
        store.run(work -> {
            assertThat(work.adopt(edited)).isSameAs(edited);
            assertThat(work.standing(edited)).isEqualTo(Standing.DIRTY);
            assertThat(edited.owner.get().boats)
                    .as("its links are of this unit")
                    .contains(edited);
            assertThat(work.commit().total().inserted()).isOne();
        });
        store.run(work -> {
            Boat boat = boat(work, 1);
            assertThat(boat.name).isEqualTo("edited");
            assertThat(boat.crew).containsExactly("Piet", "Klaas", "Jan");
            assertThatThrownBy(() -> work.adopt(edited))
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("Boat 1 is known to this unit of work as another object");
            boat.name = "again";
        });
        assertThatThrownBy(() -> store.run(work -> work.adopt(edited)))
                .isInstanceOf(ConcurrentChangeException.class)
                .hasMessageContaining("Boat 1 (version 1 was edited, but it has 2 now)");
        assertThatThrownBy(() -> store.run(work -> work.adopt(new Boat("X")))).hasMessageContaining("add(...) it");
    }

    record Form(String name, Integer seats) {}

    record Wrong(String title) {}

    @Test
    void theValuesOfAFormAreCarried() {
        store.run(work -> {
            Boat boat = work.carry(new Form("carried", 4), boat(work, 1), 0);
            assertThat(words(work.changes())).contains("Boat 1.name: boat A -> carried", "Boat 1.seats: null -> 4");
            assertThatThrownBy(() -> work.carry(new Wrong("no"), boat, null))
                    .hasMessageContaining("'title' names no attribute of Boat; it has [id, code");
        });
        store.run(work -> assertThatThrownBy(() -> work.carry(new Form("late", 1), boat(work, 1), 0))
                .isInstanceOf(ConcurrentChangeException.class)
                .hasMessageContaining("version 0 was shown, but it has 1 now"));
    }

    @Test
    void whatIsNotThereIsAddedOnce() {
        store.run(work -> {
            Boat there = work.findOrAdd(Boat.class, the(Boat::code).is("A"), () -> new Boat("A"));
            assertThat(there.id).isEqualTo(1);
            Boat added = work.findOrAdd(Boat.class, the(Boat::code).is("Z"), () -> new Boat("Z"));
            assertThat(work.findOrAdd(Boat.class, the(Boat::code).is("Z"), () -> new Boat("Z")))
                    .isSameAs(added);
        });
        List<CompletableFuture<Long>> both = List.of(findOrAddElsewhere(), findOrAddElsewhere());
        assertThat(both.get(0).join()).isEqualTo(both.get(1).join());
    }

    private CompletableFuture<Long> findOrAddElsewhere() {
        return CompletableFuture.supplyAsync(() ->
                store.call(work -> work.findOrAdd(Boat.class, text(Boat::code).is("RACE"), () -> new Boat("RACE")).id));
    }

    @Test
    void whoLosesLearnsWhatOthersHaveMadeOfIt() {
        try (UnitOfWork work = store.begin()) {
            Boat boat = read(work, Boat.class, 1);
            boat.name = "mine";
            boat.seats = 4;
            store.run(other -> {
                boat(other, 1).name = "theirs";
                boat(other, 1).owner.clear();
            });
            ConcurrentChangeException lost = catchThrowableOfType(ConcurrentChangeException.class, work::flush);
            assertThat(lost.rows()).containsExactly("Boat 1 (version 0 was read, but it has 1 now)");
            assertThat(lost.conflicts())
                    .containsExactly(
                            new Conflict("Boat 1", "name", "boat A", "mine", "theirs"),
                            new Conflict("Boat 1", "owner", 1L, 1L, null));
            assertThatThrownBy(work::rebase)
                    .isInstanceOf(ConcurrentChangeException.class)
                    .hasMessageContaining("Boat 1.name (read boat A, wanted mine, there is theirs)");
            boat.name = "boat A";
            work.rebase();
            assertThat(boat.name).as("theirs").isEqualTo("theirs");
            assertThat(boat.seats).as("mine").isEqualTo(4);
            assertThat(boat.owner.isEmpty()).isTrue();
            assertThat(words(work.changes())).contains("Boat 1.seats: null -> 4", "Boat 1.revision: 1 -> 2");
            work.commit();
        }
        store.run(work -> assertThat(boat(work, 1).seats).isEqualTo(4));
    }

    @Test
    void twoThreadsAtOnceAndAClosedUnitAreRefused() throws InterruptedException {
        UnitOfWork work = store.begin();
        CountDownLatch inside = new CountDownLatch(1);
        CountDownLatch tried = new CountDownLatch(1);
        source.inject((connection, method, argument) -> {
            if (method.equals("prepareStatement")) {
                inside.countDown();
                await(tried);
            }
        });
        CompletableFuture<Boat> first = CompletableFuture.supplyAsync(() -> boat(work, 1));
        assertThat(inside.await(10, TimeUnit.SECONDS)).isTrue();
        assertThatThrownBy(() -> boat(work, 2))
                .isInstanceOf(UnitStateException.class)
                .hasMessageContaining("is used by two threads at once");
        tried.countDown();
        first.join();
        source.mend();
        work.close();
        assertThatThrownBy(work::tracked).isInstanceOf(UnitStateException.class).hasMessageContaining("is closed");
    }

    private static void await(CountDownLatch latch) {
        try {
            latch.await(10, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    private enum Fault {
        ERROR,
        TIME_OUT,
        CONNECTION_LOST;

        SQLException exception() {
            return switch (this) {
                case ERROR -> new SQLException("out of order", "58000");
                case TIME_OUT -> new SQLTimeoutException("out of time", "57014");
                case CONNECTION_LOST -> new SQLException("gone", "08006");
            };
        }
    }

    /** Keys, pairs, parts, swapped unique values, versions, deletes: whichever statement fails, nothing has happened. */
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
            Boat a = boat(work, 1);
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
            Boat fresh = new Boat("C");
            fresh.crew.add("Mies");
            fresh.owner.set(owner);
            fresh.friends.add(owner);
            work.remove(boat(work, 3));
            work.add(fresh);
            String plan = work.plan().toString();
            List<String> changes = words(work.changes());

            int[] prepared = new int[1];
            source.inject((connection, method, argument) -> {
                if (method.equals("prepareStatement") && ++prepared[0] == failing) {
                    throw fault.exception();
                }
            });
            if (failing == Integer.MAX_VALUE) {
                work.flush();
            } else {
                assertThatThrownBy(work::flush).isInstanceOf(StatementException.class);
            }
            source.mend();
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
            store.run(other -> assertThat(other.from(Boat.class)
                            .orderBy(the(Boat::code).ascending())
                            .list())
                    .as("the database is as before")
                    .allSatisfy(boat -> assertThat(boat.revision).isZero())
                    .extracting(boat -> boat.code + boat.crew + boat.friends.size() + boat.owner.get().name)
                    .containsExactly("A[Piet, Klaas]1Aline", "B[Piet, Klaas]1Aline", "C[Piet, Klaas]1Aline"));
            return prepared[0];
        }
    }

    /** Two units that change two rows in opposite order; SQLite has one writer at a time, who waits for the other. */
    @Test
    void aDeadlockIsToldAndCanBeTriedAgain() {
        CyclicBarrier barrier = new CyclicBarrier(2);
        List<CompletableFuture<Void>> both = List.of(changeInOrder(1, 2, barrier), changeInOrder(2, 1, barrier));
        List<Throwable> failures = new ArrayList<>();
        for (CompletableFuture<Void> one : both) {
            try {
                one.join();
            } catch (CompletionException e) {
                failures.add(e.getCause());
            }
        }
        assertThat(failures).singleElement().isInstanceOfSatisfying(BathraException.class, e -> {
            assertThat(e.isRetryable()).isTrue();
            assertThat(e).isInstanceOf(database == TestDatabase.SQLITE ? LockTimeout.class : Deadlock.class);
        });
    }

    private CompletableFuture<Void> changeInOrder(long first, long second, CyclicBarrier barrier) {
        return CompletableFuture.runAsync(() -> {
            try (UnitOfWork work = store.begin()) {
                boat(work, first).seats = 1;
                work.flush();
                barrier.await(20, TimeUnit.SECONDS);
                boat(work, second).seats = 2;
                work.flush();
                work.rollback();
                work.discard();
            } catch (BathraException e) {
                barrier.reset();
                throw e;
            } catch (Exception e) {
                if (database != TestDatabase.SQLITE) {
                    throw new IllegalStateException(e);
                }
            }
        });
    }
}
