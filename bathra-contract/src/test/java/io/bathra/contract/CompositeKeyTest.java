package io.bathra.contract;

import static io.bathra.attr.DeleteRule.CASCADE;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.FlushReport;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.ModelException;
import io.bathra.error.UniqueViolation;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/**
 * Keys of several columns, as a record, and with links in them; links to such keys; constraints over several
 * attributes.
 */
@OnEachDatabase
class CompositeKeyTest {
    record Place(String quay, int number) {}

    /** Its key is a record. */
    static final class Bollard {
        private Place place;
        private int tonnes;
        private final Links<Mooring> moorings = Links.empty();

        Place place() {
            return place;
        }

        Links<Mooring> moorings() {
            return moorings;
        }

        static Bollard at(String quay, int number) {
            Bollard bollard = new Bollard();
            bollard.place = new Place(quay, number);
            return bollard;
        }
    }

    static final class Pilot {
        private Long id;
        private String name;

        Long id() {
            return id;
        }
    }

    /** Its key is a link and a column. */
    static final class Shift {
        private final Link<Pilot> pilot = Link.empty();
        private LocalDate day;
        private String note;

        Link<Pilot> pilot() {
            return pilot;
        }

        LocalDate day() {
            return day;
        }
    }

    /** Links to both. */
    static final class Mooring {
        private Long id;
        private String vessel;
        private String line;
        private final Link<Bollard> bollard = Link.empty();
        private final Link<Shift> shift = Link.empty();

        Link<Bollard> bollard() {
            return bollard;
        }

        Link<Shift> shift() {
            return shift;
        }

        String vessel() {
            return vessel;
        }

        String line() {
            return line;
        }
    }

    /** Goes with its rack. */
    static final class Tray {
        private int row;
        private int place;
        private final Link<Rack> rack = Link.empty();

        Tray() {}

        Tray(int row, int place) {
            this.row = row;
            this.place = place;
        }

        int row() {
            return row;
        }

        int place() {
            return place;
        }

        Link<Rack> rack() {
            return rack;
        }
    }

    static final class Rack {
        private Long id;
        private final Links<Tray> trays = Links.empty();

        Links<Tray> trays() {
            return trays;
        }
    }

    static final Entity<?>[] ENTITIES = {
        Entity.of(Bollard.class, Bollard::new).key(Bollard::place).links(Bollard::moorings, Mooring::bollard),
        Entity.of(Pilot.class, Pilot::new).table("night_pilot"),
        Entity.of(Shift.class, Shift::new).key(Shift::pilot, Shift::day),
        Entity.of(Mooring.class, Mooring::new)
                .column(Mooring::vessel, length(20))
                .column(Mooring::line, length(20))
                .unique(Mooring::vessel, Mooring::line, Mooring::bollard)
    };

    static final Model MODEL = Model.of("moorings", ENTITIES);

    private static final LocalDate DAY = LocalDate.of(2026, 4, 1);
    private final TestDatabase database;
    private final Store store;

    /** A mooring with a bollard, a shift and a pilot of its own. */
    static Mooring mooring(int number) {
        Shift shift = new Shift();
        shift.pilot.set(new Pilot());
        shift.day = DAY;
        Mooring mooring = new Mooring();
        mooring.vessel = "Nordlicht";
        mooring.line = "line " + number;
        mooring.shift.set(shift);
        mooring.bollard.set(Bollard.at("N", number));
        return mooring;
    }

    CompositeKeyTest(TestDatabase database) {
        this.database = database;
        store = Trips.open(MODEL, database.empty());
        store.schema().createMissing();
        store.run(work -> {
            Pilot pilot = new Pilot();
            for (int i = 0; i < 10; i++) {
                Shift shift = new Shift();
                shift.pilot.set(pilot);
                shift.day = DAY.plusDays(i);
                Mooring mooring = new Mooring();
                mooring.vessel = "Nordlicht";
                mooring.line = "line " + i;
                mooring.shift.set(shift);
                mooring.bollard.set(Bollard.at("N", i));
                work.add(mooring);
            }
        });
    }

    @Test
    void whatIsMovedAwayDoesNotHideWhatGoesAlong() {
        List<String> removed = new ArrayList<>();
        Store racks = Trips.open(
                Model.of(
                        "racks",
                        Entity.of(Rack.class, Rack::new).links(Rack::trays, Tray::rack),
                        Entity.of(Tray.class, Tray::new)
                                .key(Tray::row, Tray::place)
                                .link(Tray::rack, onDelete(CASCADE))
                                .afterRemove(tray -> removed.add(tray.row + "/" + tray.place))),
                database.empty());
        racks.schema().createMissing();
        racks.run(work -> {
            Rack rack = new Rack();
            rack.trays.add(new Tray(1, 1));
            rack.trays.add(new Tray(1, 2));
            rack.trays.add(new Tray(2, 1));
            work.add(rack);
            work.add(new Rack());
        });
        racks.run(work -> {
            Tray tray = work.require(Tray.class, List.of(1, 1));
            Rack before = tray.rack.get();
            Rack other = work.from(Rack.class).list().stream()
                    .filter(rack -> rack != before)
                    .findFirst()
                    .orElseThrow();
            tray.rack.set(other);
            work.remove(before);
        });
        assertThat(removed).containsExactlyInAnyOrder("1/2", "2/1");
        long left = racks.call(work -> work.from(Tray.class).count());
        assertThat(left).isEqualTo(1);
    }

    @Test
    void rowsAreFoundByTheirKeysAndReadOverLinks() {
        try (UnitOfWork work = store.begin()) {
            Bollard bollard = work.require(Bollard.class, new Place("N", 3));
            assertThat(work.find(Bollard.class, new Place("N", 3))).containsSame(bollard);
            assertThat(work.find(Bollard.class, new Place("S", 3))).isEmpty();
            assertThat(bollard.moorings()).singleElement().satisfies(mooring -> {
                assertThat(mooring.bollard.key()).isEqualTo(new Place("N", 3));
                assertThat(mooring.bollard.get()).isSameAs(bollard);
            });
            work.trace().clear();
            List<Mooring> moorings = work.from(Mooring.class).list();
            moorings.forEach(
                    mooring -> assertThat(mooring.shift.get().pilot.get().id).isNotNull());
            moorings.forEach(
                    mooring -> assertThat(mooring.bollard.get().moorings()).containsExactly(mooring));
            assertThat(work.trace().statements())
                    .as("moorings, shifts, pilot, bollards, their moorings")
                    .hasSize(5);

            Shift shift = moorings.get(4).shift.get();
            assertThat(work.require(Shift.class, List.of(shift.pilot.get().id, DAY.plusDays(4))))
                    .isSameAs(shift);
            assertThatThrownBy(() -> work.find(Shift.class, DAY))
                    .hasMessage("the key of Shift has 2 parts; give them as a list, List.of(...), in the order of the"
                            + " declaration");
            assertThatThrownBy(() -> work.find(Bollard.class, 3))
                    .hasMessage("the key of Bollard is a Place, but 3 is a Integer");
        }
    }

    @Test
    void conditionsOnPartsOfKeysNeedNoJoin() {
        try (UnitOfWork work = store.begin()) {
            assertThat(work.from(Mooring.class)
                            .where(the(Mooring::shift, Shift::day).above(DAY.plusDays(7)))
                            .count())
                    .isEqualTo(2);
            assertThat(work.trace().statements())
                    .last()
                    .satisfies(line -> assertThat(line.sql()).doesNotContain("join"));
            assertThat(work.from(Mooring.class)
                            .where(the(Mooring::shift, Shift::pilot, Pilot::id).isNotNull())
                            .where(text(Mooring::vessel).startsWith("Nord"))
                            .count())
                    .isEqualTo(10);
            assertThat(work.from(Shift.class)
                            .orderBy(the(Shift::day).descending())
                            .first()
                            .orElseThrow()
                            .day)
                    .isEqualTo(DAY.plusDays(9));
        }
    }

    @Test
    void oneRowAndManyAreChangedAndRemoved() {
        for (int rows : new int[] {1, 9}) {
            store.run(work -> {
                List<Bollard> bollards = work.from(Bollard.class).limit(rows).list();
                bollards.forEach(bollard -> bollard.tonnes += 80);
                assertThat(work.flush().of(Bollard.class)).isEqualTo(new FlushReport.Rows(0, rows, 0));
                List<Mooring> moorings = new ArrayList<>();
                bollards.forEach(bollard -> moorings.addAll(bollard.moorings()));
                List<Shift> shifts =
                        moorings.stream().map(mooring -> mooring.shift.get()).toList();
                moorings.forEach(work::remove);
                shifts.forEach(work::remove);
                bollards.forEach(work::remove);
                assertThat(work.commit().total()).isEqualTo(new FlushReport.Rows(0, rows, 3 * rows));
            });
        }
        store.run(work -> assertThat(work.from(Bollard.class).count()
                        + work.from(Shift.class).count())
                .isZero());
    }

    @Test
    void aLinkWithSeveralColumnsIsMovedAndEmptied() {
        store.run(work -> {
            List<Mooring> moorings = work.from(Mooring.class).list();
            moorings.get(0).bollard.set(Bollard.at("S", 1));
            moorings.get(1).bollard.clear();
            moorings.get(2).bollard.set(moorings.get(3).bollard.get());
            assertThat(work.standing(moorings.get(3))).isEqualTo(Standing.CLEAN);
            work.flush();
        });
        store.run(work -> {
            assertThat(work.require(Bollard.class, new Place("S", 1)).moorings())
                    .hasSize(1);
            assertThat(work.require(Bollard.class, new Place("N", 3)).moorings())
                    .hasSize(2);
            assertThat(work.from(Mooring.class).list())
                    .filteredOn(mooring -> mooring.bollard.isEmpty())
                    .hasSize(1);
        });
    }

    @Test
    void aTwinOfWhatTheUnitHasNotReadIsRefusedByTheDatabase() {
        Mooring there = store.call(work -> work.from(Mooring.class).first().orElseThrow());
        try (UnitOfWork work = store.begin()) {
            Mooring twin = new Mooring();
            twin.vessel = there.vessel;
            twin.line = there.line;
            twin.bollard.toKey(there.bollard.key());
            work.add(twin);
            assertThatThrownBy(work::flush).isInstanceOfSatisfying(UniqueViolation.class, violation -> {
                assertThat(violation.place().entity()).isEqualTo("Mooring");
                assertThat(violation.place().attributes()).contains("vessel", "line", "bollard");
            });
        }
    }

    @Test
    void severalAttributesTogetherAreUnique() {
        try (UnitOfWork work = store.begin()) {
            Mooring there = work.from(Mooring.class).first().orElseThrow();
            Mooring twin = new Mooring();
            twin.vessel = there.vessel;
            twin.line = there.line;
            twin.bollard.set(there.bollard.get());
            work.add(twin);
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining("must be unique, but Mooring 1 has it");
            there.line = "another";
            assertThat(work.plan().steps())
                    .as("freed, then taken")
                    .extracting(Object::toString)
                    .containsExactly("update mooring (1 row)", "insert mooring (1 row)");
            work.flush();
            Mooring third = new Mooring();
            third.vessel = "Nordlicht";
            third.line = "another";
            third.bollard.set(there.bollard.get());
            there.line = "changed again, but not to be stored with the third";
            there.line = "another";
            Mooring fourth = new Mooring();
            fourth.vessel = "Nordlicht";
            fourth.line = "another";
            fourth.bollard.set(there.bollard.get());
            work.add(third);
            work.add(fourth);
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining(
                            "vessel+line+bollard = [Nordlicht, another, Place[quay=N, number=0]]: must be unique");
        }
    }

    @Test
    void keysAreAssignedAndStay() {
        try (UnitOfWork work = store.begin()) {
            Shift incomplete = new Shift();
            incomplete.day = DAY;
            work.add(incomplete);
            work.require(Bollard.class, new Place("N", 1)).place = new Place("N", 99);
            assertThat(work.problems())
                    .extracting(Object::toString)
                    .containsExactlyInAnyOrder(
                            "Shift (new #1).pilot = null: the key is assigned by the program; set it before the flush",
                            "Bollard Place[quay=N, number=1].place = Place[quay=N, number=99]: a key cannot be changed; set"
                                    + " it back, or remove the object and add a new one");
        }
    }

    static final class Ouroboros {
        private final Link<Ouroboros> tail = Link.empty();
        private int number;

        Link<Ouroboros> tail() {
            return tail;
        }

        int number() {
            return number;
        }
    }

    @Test
    void aKeyThatContainsItselfIsAFault() {
        assertThatThrownBy(() -> Model.of(
                        "ring", Entity.of(Ouroboros.class, Ouroboros::new).key(Ouroboros::tail, Ouroboros::number)))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("Ouroboros: its key contains a link that leads back to it");
    }
}
