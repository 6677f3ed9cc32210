package io.bathra.contract;

import static io.bathra.Terms.reading;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitLimits;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.Conflict;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.UnitStateException;
import io.bathra.error.UnreadLinkException;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.Test;

/** What a unit of work says of itself, and what comes in from outside. */
@OnEachDatabase
class UnitTest extends BoatContract {
    UnitTest(TestDatabase database) {
        super(database);
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
                            keys.in("Boat {boat 1}.name: boat A -> renamed"),
                            keys.in("Boat {boat 1}.revision: 0 -> 1"),
                            keys.in("Boat {boat 1}.crew[0].element: Piet -> Jan"),
                            keys.in("Boat {boat 1}.crew[0].position: 1000 -> 3000"),
                            keys.in("Boat {boat 2}: removed"));
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
                            keys.in(
                                    "Boat (new #1).code = A: must be unique, but Boat {boat 1} is stored with it; change one of them"),
                            keys.in(
                                    "Boat {boat 2}.code = C: must be unique, but Boat {boat 3} is stored with it; change one of them"));
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
                    .hasMessageContaining(keys.in("Boat {boat 1}.name: boat A -> renamed"));
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
            Boat boat = read(work, 1);
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
                    .hasMessage(keys.in("Boat {boat 1} is not there any more; somebody removed it"));
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
                    .hasMessageContaining(keys.in("Boat {boat 1} is known to this unit of work as another object"));
            boat.name = "again";
        });
        assertThatThrownBy(() -> store.run(work -> work.adopt(edited)))
                .isInstanceOf(ConcurrentChangeException.class)
                .hasMessageContaining(keys.in("Boat {boat 1} (version 1 was edited, but it has 2 now)"));
        assertThatThrownBy(() -> store.run(work -> work.adopt(new Boat("X")))).hasMessageContaining("add(...) it");
    }

    @Test
    void aUnitThatGrowsLargeOrOldIsWarnedOfOnce() {
        Store small = store.withLimits(new UnitLimits(1, Duration.ofDays(1)));
        assertThat(logged(() -> small.run(reading(), work -> {
                    work.from(Boat.class).list();
                    work.from(Boat.class).list();
                })))
                .containsOnlyOnce("tracks more than 1 entities")
                .doesNotContain("has been open");
        Store shortLived = store.withLimits(new UnitLimits(100, Duration.ZERO));
        assertThat(logged(() ->
                        shortLived.run(reading(), work -> work.from(Boat.class).list())))
                .containsOnlyOnce("has been open for more than PT0S");
        assertThat(logged(
                        () -> store.run(reading(), work -> work.from(Boat.class).list())))
                .isEmpty();
        assertThatThrownBy(() -> new UnitLimits(-1, Duration.ZERO)).hasMessageContaining("UnitLimits(-1, PT0S)");
    }

    record Form(String name, Integer seats) {}

    record Wrong(String title) {}

    @Test
    void theValuesOfAFormAreCarried() {
        store.run(work -> {
            Boat boat = work.carry(new Form("carried", 4), boat(work, 1), 0);
            assertThat(words(work.changes()))
                    .contains(
                            keys.in("Boat {boat 1}.name: boat A -> carried"),
                            keys.in("Boat {boat 1}.seats: null -> 4"));
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
            Boat boat = read(work, 1);
            boat.name = "mine";
            boat.seats = 4;
            store.run(other -> {
                boat(other, 1).name = "theirs";
                boat(other, 1).owner.clear();
            });
            ConcurrentChangeException lost = catchThrowableOfType(ConcurrentChangeException.class, work::flush);
            assertThat(lost.rows()).containsExactly(keys.in("Boat {boat 1} (version 0 was read, but it has 1 now)"));
            assertThat(lost.conflicts())
                    .containsExactly(
                            new Conflict(keys.in("Boat {boat 1}"), "name", "boat A", "mine", "theirs"),
                            new Conflict(
                                    keys.in("Boat {boat 1}"), "owner", keys.of("owner", 1), keys.of("owner", 1), null));
            assertThatThrownBy(work::rebase)
                    .isInstanceOf(ConcurrentChangeException.class)
                    .hasMessageContaining(keys.in("Boat {boat 1}.name (read boat A, wanted mine, there is theirs)"));
            boat.name = "boat A";
            work.rebase();
            assertThat(boat.name).as("theirs").isEqualTo("theirs");
            assertThat(boat.seats).as("mine").isEqualTo(4);
            assertThat(boat.owner.isEmpty()).isTrue();
            assertThat(words(work.changes()))
                    .contains(keys.in("Boat {boat 1}.seats: null -> 4"), keys.in("Boat {boat 1}.revision: 1 -> 2"));
            work.commit();
        }
        store.run(work -> assertThat(boat(work, 1).seats).isEqualTo(4));
    }
}
