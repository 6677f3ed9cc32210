package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.allOf;
import static io.bathra.query.Ask.any;
import static io.bathra.query.Ask.anyOf;
import static io.bathra.query.Ask.link;
import static io.bathra.query.Ask.not;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.parameter;
import static io.bathra.query.Ask.parameters;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.answer.Pending;
import io.bathra.error.BathraException;
import io.bathra.error.CheckViolation;
import io.bathra.error.ModelException;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Condition;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Conditions on links, which are compared with the entities themselves. */
@OnEachDatabase
class LinkConditionTest {
    static final class Quay {
        String code;

        static Quay of(String code) {
            Quay quay = new Quay();
            quay.code = code;
            return quay;
        }

        String code() {
            return code;
        }
    }

    /** Its key is a link and a number. */
    static final class Slot {
        final Link<Quay> quay = Link.empty();
        int number;

        static Slot of(Quay quay, int number) {
            Slot slot = new Slot();
            slot.quay.set(quay);
            slot.number = number;
            return slot;
        }

        Link<Quay> quay() {
            return quay;
        }

        int number() {
            return number;
        }

        Slot number(int newNumber) {
            number = newNumber;
            return this;
        }
    }

    static final class Tug {
        Long id;
        final Link<Escort> escort = Link.empty();

        Long id() {
            return id;
        }

        Link<Escort> escort() {
            return escort;
        }
    }

    static final class Leg {
        final Link<Tug> with = Link.empty();
        int miles;

        Link<Tug> with() {
            return with;
        }

        Leg with(Tug tug) {
            with.set(tug);
            return this;
        }

        int miles() {
            return miles;
        }
    }

    static final class Escort {
        Long id;
        String name;
        final Link<Slot> from = Link.empty();
        final Link<Tug> tug = Link.empty();
        List<Leg> legs = new ArrayList<>();

        String name() {
            return name;
        }

        Link<Slot> from() {
            return from;
        }

        Link<Tug> tug() {
            return tug;
        }

        List<Leg> legs() {
            return legs;
        }
    }

    private static Entity<Escort> escort() {
        return Entity.of(Escort.class, Escort::new)
                .column(Escort::name, length(20))
                .link(Escort::tug, unique())
                .parts(Escort::legs);
    }

    private static Model model(Entity<Escort> escort) {
        return Model.of(
                "escorts",
                Entity.of(Quay.class, Quay::new).key(Quay::code).column(Quay::code, length(10)),
                Entity.of(Slot.class, Slot::new).key(Slot::quay, Slot::number),
                Entity.of(Tug.class, Tug::new).link(Tug::escort, Escort::tug),
                escort);
    }

    private final Store store;
    private final Slot north1 = Slot.of(Quay.of("north"), 1);
    private final Slot north2 = Slot.of(north1.quay.get(), 2);
    private final Slot south1 = Slot.of(Quay.of("south"), 1);
    private final Tug strong = new Tug();
    private final Tug idle = new Tug();

    LinkConditionTest(TestDatabase database) {
        store = Trips.open(
                model(escort().check(anyOf(
                        link(Escort::from).isNotNull(), link(Escort::tug).isNotNull()))),
                database.empty());
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
        store.run(work -> {
            List.of(north1, north2, south1, strong, idle).forEach(work::add);
            List.of(escort("a", north1, strong), escort("b", north2, null), escort("c", south1, null))
                    .forEach(work::add);
            Tug third = new Tug();
            Escort last = escort("d", null, third);
            Leg leg = new Leg();
            leg.miles = 3;
            last.legs.add(leg.with(strong));
            List.of(third, last).forEach(work::add);
        });
    }

    private static Escort escort(String name, Slot from, Tug tug) {
        Escort escort = new Escort();
        escort.name = name;
        if (from != null) {
            escort.from.set(from);
        }
        if (tug != null) {
            escort.tug.set(tug);
        }
        return escort;
    }

    private static List<String> names(UnitOfWork work, Condition<Escort> condition) {
        return work
                .from(Escort.class)
                .where(condition)
                .orderBy(the(Escort::name).ascending())
                .list()
                .stream()
                .map(Escort::name)
                .toList();
    }

    @Test
    void aLinkLeadsToAnEntityToOneOfSeveralOrNowhere() {
        store.run(work -> {
            assertThat(names(work, link(Escort::from).is(north2))).containsExactly("b");
            assertThat(names(work, link(Escort::from).isNot(north2))).containsExactly("a", "c");
            assertThat(names(work, link(Escort::from).in(north1, south1))).containsExactly("a", "c");
            assertThat(names(work, not(link(Escort::from).in(north1, south1)))).containsExactly("b");
            assertThat(names(work, link(Escort::from).in(List.of()))).isEmpty();
            assertThat(names(work, link(Escort::from).isNull())).containsExactly("d");
            assertThat(names(work, link(Escort::from).isNotNull())).containsExactly("a", "b", "c");
            assertThat(names(work, link(Escort::tug).is(strong))).containsExactly("a");
            assertThat(names(work, link(Escort::tug).isNot(strong))).containsExactly("d");
            assertThat(names(work, link(Escort::tug).in(strong, idle))).containsExactly("a");
            assertThat(names(
                            work,
                            any(
                                    Escort::legs,
                                    link(Leg.class, Leg::with).is(strong),
                                    the(Leg::miles).is(3))))
                    .containsExactly("d");
            assertThat(names(work, any(Escort::legs, link(Leg.class, Leg::with).is(idle))))
                    .isEmpty();
        });
    }

    @Test
    void aKeyThatALinkHoldsNeedsNoOtherTable() {
        store.run(work -> {
            assertThat(names(work, link(Escort::from, Slot::quay).is(north1.quay.get())))
                    .containsExactly("a", "b");
            assertThat(work.trace().lines()).noneMatch(line -> line.sql().contains("join"));
            List<Slot> slots = work.from(Slot.class)
                    .where(
                            number(Slot.class, Slot::number).above(1),
                            link(Slot::quay).is(north1.quay.get()))
                    .list();
            assertThat(slots).extracting(slot -> slot.number).containsExactly(2);
        });
    }

    @Test
    void theOtherSideOfAOneToOneAssociation() {
        store.run(work -> {
            Escort a = work.from(Escort.class).where(the(Escort::name).is("a")).one();
            assertThat(work.from(Tug.class).where(link(Tug::escort).is(a)).keys())
                    .containsExactly(strong.id);
            assertThat(work.from(Tug.class).where(link(Tug::escort).isNull()).keys())
                    .containsExactly(idle.id);
            assertThat(work.from(Tug.class).where(link(Tug::escort).isNotNull()).count())
                    .isEqualTo(2);
            assertThat(work.from(Tug.class).where(link(Tug::escort).isNot(a)).count())
                    .isEqualTo(1);
        });
    }

    @Test
    void entitiesAreGivenByName() {
        Condition<Escort> one = link(Escort::from).is(parameter("from", Slot.class));
        Condition<Escort> some = link(Escort::from).in(parameters("some", Slot.class));
        store.run(work -> {
            assertThat(work.from(Escort.class).where(one).with("from", north2).count())
                    .isEqualTo(1);
            assertThat(work.from(Escort.class)
                            .where(some)
                            .with("some", List.of(north1, north2))
                            .count())
                    .isEqualTo(2);
            assertThatThrownBy(() -> work.from(Escort.class)
                            .where(one)
                            .with("from", strong)
                            .count())
                    .hasMessageContaining("is a Slot, but was given a Tug");
        });
        assertThat(allOf(one, some, link(Escort::from).is(north1)))
                .hasToString("from = :from and from in (:some) and from = ?");
    }

    @Test
    void whatIsNewIsStoredBeforeItIsComparedWith() {
        store.run(work -> {
            Slot fresh = Slot.of(work.require(Quay.class, "north"), 3);
            Tug tug = new Tug();
            List.of(fresh, tug).forEach(work::add);
            assertThat(names(work, link(Escort::from).is(fresh))).isEmpty();
            assertThat(names(work, link(Escort::tug).isNot(tug))).containsExactly("a", "d");
            Escort escort = escort("e", fresh, null);
            work.add(escort);
            assertThat(work.from(Escort.class)
                            .where(link(Escort::from).is(fresh))
                            .pending(Pending.OVERLAY)
                            .list())
                    .containsExactly(escort);
            Tug another = new Tug();
            assertThatThrownBy(() -> work.from(Escort.class)
                            .where(link(Escort::tug).is(another))
                            .count())
                    .isExactlyInstanceOf(BathraException.class)
                    .hasMessageContaining("the Tug that tug is compared with has no key yet")
                    .hasMessageContaining("flush()");
            work.rollback();
        });
    }

    @Test
    void rowsAreUpdatedAndDeletedByWhatTheyLeadTo() {
        store.run(work -> {
            assertThat(work.from(Escort.class)
                            .where(link(Escort::from).in(north1, north2))
                            .update(the(Escort::name).to("north")))
                    .isEqualTo(2);
            assertThat(work.from(Escort.class)
                            .where(link(Escort::from).is(south1))
                            .delete())
                    .isEqualTo(1);
            assertThat(work.from(Escort.class).count()).isEqualTo(3);
        });
    }

    @Test
    void aCheckAsksWhetherALinkLeadsAnywhere() {
        assertThatThrownBy(() -> store.run(work -> work.add(escort("adrift", null, null))))
                .isInstanceOf(CheckViolation.class)
                .hasMessageContaining("from");
        assertThatThrownBy(() -> model(escort().check(link(Escort::from).is(north1))))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("a check knows no other rows");
        assertThatThrownBy(() -> link(Escort::from).is((Slot) null))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("use isNull()");
    }
}
