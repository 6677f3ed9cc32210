package io.bathra.contract;

import static io.bathra.model.Declare.deferrable;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.ConstraintViolation;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.error.UnorderableChangesException;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.Operation;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Rings and swaps where constraints may be checked late; and what is said of links that lead nowhere. */
@OnEachDatabase
class DeferrableTest {
    static final class Captain {
        private Long id;
        private final Link<Ship> ship = Link.empty();

        Link<Ship> ship() {
            return ship;
        }
    }

    static final class Ship {
        private Long id;
        private String sign;
        private final Link<Captain> captain = Link.empty();

        Ship() {}

        Ship(String sign) {
            this.sign = sign;
        }

        String sign() {
            return sign;
        }

        Link<Captain> captain() {
            return captain;
        }
    }

    private static final Model MODEL = Model.of(
            "ships",
            Entity.of(Captain.class, Captain::new).link(Captain::ship, required(), deferrable()),
            Entity.of(Ship.class, Ship::new)
                    .column(Ship::sign, required(), length(5), unique(), deferrable())
                    .link(Ship::captain, required()));

    private final TestDatabase database;
    private final DataSource source;
    private final Store store;
    private UnitOfWork work;

    DeferrableTest(TestDatabase database) {
        this.database = database;
        source = database.empty();
        store = Trips.open(MODEL, source);
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        assertThat(store.schema().verify().toString()).doesNotContain("deferrable");
        work = store.begin();
    }

    @AfterEach
    void close() {
        work.close();
        store.close();
    }

    private boolean defersForeignKeys() {
        return database == TestDatabase.POSTGRESQL || database == TestDatabase.SQLITE;
    }

    private static Ship crewed(String sign) {
        Ship ship = new Ship(sign);
        ship.captain().set(new Captain());
        ship.captain().get().ship().set(ship);
        return ship;
    }

    @Test
    void aRingOfRequiredLinksIsCutWhereTheCheckCanWait() {
        Ship ship = crewed("A");
        work.add(ship);
        if (!defersForeignKeys()) {
            assertThatThrownBy(work::flush)
                    .isInstanceOf(UnorderableChangesException.class)
                    .hasMessageContaining("deferrable()");
            return;
        }
        assertThat(work.plan().isDeferring()).isTrue();
        assertThat(work.plan().toString()).contains("checked at the end");
        work.flush();
        work.remove(ship);
        work.remove(ship.captain().get());
        work.commit();
        assertThat(TestDatabase.count(source, "ship")).isZero();
        work.add(crewed("B"));
        work.commit();
        assertThat(TestDatabase.count(source, "captain")).isEqualTo(1);
    }

    @Test
    void aSwapNeedsNoParkingWhereTheCheckCanWait() {
        if (!defersForeignKeys()) {
            return; // the ring of the model cannot be stored there
        }
        for (String sign : List.of("A", "B", "C")) {
            work.add(crewed(sign));
        }
        work.flush();
        List<Ship> ships = work.from(Ship.class).list();
        ships.get(0).sign = "B";
        ships.get(1).sign = "C";
        ships.get(2).sign = "A";
        long updates = work.plan().steps().stream()
                .filter(step -> step.operation() == Operation.UPDATE)
                .count();
        assertThat(updates).isEqualTo(database == TestDatabase.POSTGRESQL ? 1 : 2);
        work.commit();
        assertThat(work.from(Ship.class).list()).extracting(Ship::sign).containsExactly("B", "C", "A");
    }

    @Test
    void aCheckThatWaitedIsMadeByTheFlush() {
        if (!defersForeignKeys()) {
            return;
        }
        Ship ship = crewed("A");
        work.add(ship);
        work.flush();
        Ship second = crewed("B");
        second.captain().get().ship().toKey(99L);
        Ship third = crewed("C");
        work.add(second);
        work.add(third);
        assertThatThrownBy(database == TestDatabase.SQLITE ? work::commit : work::flush)
                .isInstanceOf(ConstraintViolation.class);
        second.captain().get().ship().set(second);
        work.commit();
        assertThat(TestDatabase.count(source, "ship")).isEqualTo(3);
    }

    static final class Buoy {
        private Long id;
        private final Link<Buoy> next = Link.empty();
        private final Link<Buoy> previous = Link.empty();

        Link<Buoy> next() {
            return next;
        }

        Link<Buoy> previous() {
            return previous;
        }
    }

    @Test
    void aLinkThatLeadsNowhereIsNamedEverywhere() {
        try (Store buoys = Trips.open(Model.of("buoys", Entity.of(Buoy.class, Buoy::new)), database.empty());
                UnitOfWork other = buoys.begin()) {
            buoys.schema().createMissing();
            Buoy first = new Buoy();
            Buoy second = new Buoy();
            second.next().set(first);
            second.previous().toKey(77L);
            other.add(second);
            assertThatThrownBy(other::flush).isInstanceOfSatisfying(ForeignKeyViolation.class, violation -> {
                assertThat(violation.place().entity()).isEqualTo("Buoy");
                assertThat(violation.place().attributes()).containsExactly("previous");
                assertThat(violation.place().value()).contains("77");
            });
            second.previous().clear();
            other.commit();
        }
    }
}
