package io.bathra.contract;

import static io.bathra.model.Declare.noCascade;
import static io.bathra.model.Declare.orderedBy;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.ModelException;
import io.bathra.error.UnreadLinkException;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.TraceLine;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InvalidObjectException;
import java.io.ObjectInputStream;
import java.io.ObjectOutputStream;
import java.io.Serializable;
import java.util.List;
import java.util.NoSuchElementException;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Associations beyond a link and its many: one-to-one, ordered, without cascade, to a key, sent elsewhere. */
@OnEachDatabase
class AssociationTest {
    static final class Captain implements Serializable {
        private static final long serialVersionUID = 1;

        private Long id;
        private String name;
        private final Link<Ship> ship = Link.empty();
        private final Link<Captain> teacher = Link.empty();
        private final Links<Captain> pupils = Links.empty();

        Captain() {}

        Captain(String name) {
            this.name = name;
        }

        String name() {
            return name;
        }

        Link<Ship> ship() {
            return ship;
        }

        Link<Captain> teacher() {
            return teacher;
        }

        Links<Captain> pupils() {
            return pupils;
        }

        @Override
        public String toString() {
            return name;
        }
    }

    static final class Ship implements Serializable {
        private static final long serialVersionUID = 1;

        private Long id;
        private final Link<Captain> captain = Link.empty();
        private final Link<Dock> home = Link.empty();

        Long id() {
            return id;
        }

        Link<Captain> captain() {
            return captain;
        }

        Link<Dock> home() {
            return home;
        }
    }

    static final class Dock {
        private Long id;
        private final Links<Ship> ships = Links.empty();
        private final Link<Ship> guard = Link.empty();
        private final Link<Captain> master = Link.empty();

        Links<Ship> ships() {
            return ships;
        }

        Link<Ship> guard() {
            return guard;
        }

        Link<Captain> master() {
            return master;
        }
    }

    private static final Entity<Captain> CAPTAIN = Entity.of(Captain.class, Captain::new)
            .link(Captain::ship, Ship::captain)
            .links(
                    Captain::pupils,
                    Captain::teacher,
                    orderedBy(the(Captain::name).descending()));
    private static final Entity<Dock> DOCK = Entity.of(Dock.class, Dock::new)
            .links(Dock::ships, Ship::home, noCascade(), orderedBy(the(Ship::id).descending()))
            .link(Dock::guard, noCascade());
    static final Entity<?>[] ENTITIES = {
        CAPTAIN, Entity.of(Ship.class, Ship::new).link(Ship::captain, unique()).link(Ship::home, noCascade()), DOCK
    };

    private final Store store;
    private Keys keys;

    AssociationTest(TestDatabase database) {
        store = Trips.open(Model.of("ships", ENTITIES), database.empty());
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
        store.run(work -> List.of("Ahlke", "Bente").forEach(name -> {
            Captain captain = new Captain(name);
            captain.ship.set(new Ship());
            work.add(captain);
        }));
        keys = Keys.in(store, "captain", "ship");
    }

    private Captain captain(UnitOfWork work, long number) {
        return work.require(Captain.class, keys.of("captain", number));
    }

    @Test
    void oneToOneIsReadFromEitherSideForTheWholeCohort() {
        store.run(work -> work.add(new Captain("Carsten")));
        try (UnitOfWork work = store.begin()) {
            List<Captain> captains = work.from(Captain.class).list();
            assertThat(captains.get(0).ship).hasToString("Link(unread)");
            assertThat(captains.get(0).ship.get().captain.get()).isSameAs(captains.get(0));
            assertThat(captains.get(1).ship.find()).isPresent();
            assertThat(captains.get(2).ship.isEmpty()).isTrue();
            assertThat(captains.get(2).ship.find()).isEmpty();
            assertThatThrownBy(captains.get(2).ship::get).isInstanceOf(NoSuchElementException.class);
            assertThat(work.trace().statements()).hasSize(2);
            assertThat(work.changes()).isEmpty();
        }
        try (UnitOfWork work = store.begin()) {
            List<Captain> captains =
                    work.from(Captain.class).alongWith(Captain::ship).list();
            work.trace().clear();
            assertThat(captains).filteredOn(captain -> !captain.ship.isEmpty()).hasSize(2);
            assertThat(work.trace().statements()).isEmpty();
        }
    }

    @Test
    void oneToOneIsChangedFromEitherSide() {
        store.run(work -> {
            Captain ahlke = captain(work, 1);
            Captain bente = captain(work, 2);
            Ship second = work.require(Ship.class, keys.of("ship", 2));
            ahlke.ship.set(second);
            assertThat(second.captain.get()).isSameAs(ahlke);
            assertThat(bente.ship.isEmpty()).as("who had it before").isTrue();
            Ship first = work.require(Ship.class, keys.of("ship", 1));
            assertThat(first.captain.isEmpty()).as("what she had before").isTrue();
            first.captain.set(bente);
            assertThat(bente.ship.get()).isSameAs(first);
            first.captain.clear();
            assertThat(bente.ship.isEmpty()).isTrue();
            assertThatThrownBy(() -> bente.ship.toKey(keys.of("ship", 1)))
                    .isInstanceOf(UnsupportedOperationException.class)
                    .hasMessageContaining(
                            keys.in(
                                    "Captain {captain 2}.ship is the side of a one-to-one association without the foreign key"));
        });
        store.run(work -> {
            assertThat(captain(work, 1).ship.get().id).isEqualTo(keys.of("ship", 2));
            assertThat(captain(work, 2).ship.isEmpty()).isTrue();
        });
    }

    @Test
    void aSecondClaimantIsNamedWithTheFirst() {
        try (UnitOfWork work = store.begin()) {
            Captain ahlke = captain(work, 1);
            Ship first = work.require(Ship.class, keys.of("ship", 1));
            Ship third = new Ship();
            third.captain.set(ahlke);
            work.add(third);
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining(
                            keys.in(
                                    "Ship (new #3).captain = {captain 1}: must be unique, but Ship {ship 1} has it; change one"));
            work.remove(first);
            assertThat(InlineTest.steps(work)).containsExactly("delete ship (1 row)", "insert ship (1 row)");
        }
    }

    @Test
    void aToManyIsReadInItsOrder() {
        store.run(work -> {
            Captain ahlke = captain(work, 1);
            for (String name : List.of("Dirk", "Femke", "Enno")) {
                ahlke.pupils.add(new Captain(name));
            }
        });
        store.run(work -> {
            Captain ahlke = captain(work, 1);
            assertThat(ahlke.pupils).hasToString("Links(unread)");
            assertThat(ahlke.pupils.asList()).extracting(Captain::name).containsExactly("Femke", "Enno", "Dirk");
            ahlke.pupils.add(new Captain("Gerd"));
            assertThat(ahlke.pupils.asList()).extracting(Captain::name).endsWith("Gerd");
            assertThatThrownBy(() -> ahlke.pupils.move(ahlke, 0)).isInstanceOf(UnsupportedOperationException.class);
        });
    }

    @Test
    void withoutCascadeWhatIsNewHasToBeAdded() {
        try (UnitOfWork work = store.begin()) {
            Dock dock = new Dock();
            Ship ship = new Ship();
            Ship guard = new Ship();
            dock.ships.add(ship);
            dock.guard.set(guard);
            dock.master.set(new Captain("along"));
            work.add(dock);
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining(".guard = io.bathra")
                    .hasMessageContaining("leads to an object that this unit of work does not know")
                    .hasMessageContaining(".ships = io.bathra")
                    .hasMessageContaining("does not store it along; add it");
            work.add(ship);
            work.add(guard);
            assertThat(work.commit().total().inserted()).isEqualTo(4);
            assertThat(dock.ships).containsExactly(ship);
            dock.ships.add(new Ship());
            assertThatThrownBy(work::flush)
                    .as("though nothing else has changed")
                    .hasMessageContaining("does not store it along; add it");
            work.discard();
        }
        try (UnitOfWork work = store.begin()) {
            Ship ship = new Ship();
            Dock dock = new Dock();
            ship.home.set(dock);
            work.add(ship);
            assertThatThrownBy(work::flush).hasMessageContaining(".home = ");
        }
    }

    @Test
    void aLinkIsPointedToAKeyWithoutReading() {
        try (UnitOfWork work = store.begin()) {
            Captain pupil = new Captain("Hauke");
            pupil.teacher.toKey(keys.of("captain", 2));
            work.add(pupil);
            work.commit();
            assertThat(work.trace().statements())
                    .extracting(TraceLine::sql)
                    .noneMatch(sql -> sql.contains("from captain"));
            assertThat(pupil.teacher.key()).isEqualTo(keys.of("captain", 2));
            assertThat(pupil.teacher.isRead()).isFalse();
            assertThat(pupil.teacher.get().name).isEqualTo("Bente");
            pupil.teacher.toKey(keys.of("captain", 1));
            work.commit();
            assertThat(pupil.teacher.get().pupils).containsExactly(pupil);
            pupil.teacher.toKey(keys.of("captain", 2));
            assertThat(pupil.teacher.isRead()).as("known here").isTrue();
            assertThat(captain(work, 1).pupils).isEmpty();
            pupil.teacher.toKey("two");
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining("teacher = two: leads to a key of Captain, which is a Long");
            pupil.teacher.toKey(77L);
            assertThatThrownBy(work::flush).isInstanceOf(ForeignKeyViolation.class);
        }
    }

    @Test
    void holdersTravelAsKeys() throws IOException, ClassNotFoundException {
        Ship read = store.call(work -> work.require(Ship.class, keys.of("ship", 1)));
        Ship copy = copy(read);
        assertThat(copy.captain.key()).isEqualTo(keys.of("captain", 1));
        assertThat(copy.home.isEmpty()).isTrue();
        assertThatThrownBy(copy.captain::get)
                .isInstanceOf(UnreadLinkException.class)
                .hasMessageContaining("belongs to no unit of work");
        Ship visited = store.call(work -> {
            Ship ship = work.require(Ship.class, keys.of("ship", 1));
            assertThat(ship.captain.get().pupils).isEmpty();
            return ship;
        });
        assertThat(visited.captain.key()).as("after its unit was closed").isEqualTo(keys.of("captain", 1));
        assertThat(copy(visited).captain.key()).isEqualTo(keys.of("captain", 1));
        assertThat(copy(visited.captain.get()).pupils).as("read and empty").isEmpty();
        Captain captain = copy(store.call(work -> captain(work, 1)));
        assertThat(captain.pupils).hasToString("Links(unread)");
        assertThatThrownBy(captain.pupils::size).isInstanceOf(UnreadLinkException.class);
        assertThatThrownBy(captain.ship::find).isInstanceOf(UnreadLinkException.class);
        Ship fresh = new Ship();
        fresh.captain.set(new Captain("new"));
        assertThatThrownBy(() -> copy(fresh))
                .isInstanceOf(InvalidObjectException.class)
                .hasMessageContaining("a link to a new Captain cannot be serialized");

        store.run(work -> {
            Ship here = work.require(Ship.class, keys.of("ship", 2));
            here.captain.toKey(copy.captain.key());
            work.require(Ship.class, keys.of("ship", 1)).captain.clear();
        });
    }

    @SuppressWarnings("unchecked")
    private static <T> T copy(T object) throws IOException, ClassNotFoundException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (ObjectOutputStream out = new ObjectOutputStream(bytes)) {
            out.writeObject(object);
        }
        try (ObjectInputStream in = new ObjectInputStream(new ByteArrayInputStream(bytes.toByteArray()))) {
            return (T) in.readObject();
        }
    }

    @Test
    void aChainOfAHundredAndARingOfThreeAreOneFlushEach() {
        store.run(work -> {
            Captain last = new Captain("0");
            for (int i = 1; i < 100; i++) {
                Captain next = new Captain("" + i);
                next.teacher.set(last);
                last = next;
            }
            work.add(last);
            assertThat(InlineTest.steps(work)).containsExactly("insert captain (100 rows)");
        });
        store.run(work -> {
            work.from(Captain.class).where(the(Captain::name).below("A")).list().forEach(work::remove);
            assertThat(InlineTest.steps(work)).containsExactly("delete captain (100 rows)");
        });
        List<Captain> ring =
                IntStream.range(0, 3).mapToObj(i -> new Captain("ring " + i)).toList();
        for (int i = 0; i < 3; i++) {
            ring.get(i).teacher.set(ring.get((i + 1) % 3));
        }
        try (UnitOfWork work = store.begin()) {
            work.add(ring.get(0));
            assertThat(InlineTest.steps(work)).containsExactly("insert captain (3 rows)", "update captain (3 rows)");
            work.commit();
            ring.forEach(work::remove);
            assertThat(InlineTest.steps(work)).containsExactly("update captain (3 rows)", "delete captain (3 rows)");
            work.commit();
            assertThat(work.from(Captain.class).count()).isEqualTo(2);
        }
    }

    @Test
    void theOtherSideOfOneToOneNeedsAUniqueLink() {
        assertThatThrownBy(() -> Model.of(
                        "odd", CAPTAIN, DOCK, Entity.of(Ship.class, Ship::new).link(Ship::captain, required())))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("Captain.ship: is the other side of Ship.captain, which may lead here from many"
                        + " rows; declare that link unique(), or make this one Links");
    }
}
