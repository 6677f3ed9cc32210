package io.bathra.contract;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Isolation;
import io.bathra.Position;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.junit.Faults;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Which server a unit goes to. Those that stand for standbys are databases of their own, each with another row. */
@OnEachDatabase
class ReadingFromTest {
    static final class Lamp {
        private int number;
        private String place;

        Lamp() {}

        Lamp(String place) {
            this.number = 1;
            this.place = place;
        }

        int number() {
            return number;
        }

        String place() {
            return place;
        }
    }

    private static final Model MODEL = Model.of(
            "lamps",
            Entity.of(Lamp.class, Lamp::new).key(Lamp::number, assigned()).column(Lamp::place, required(), length(20)));

    private final TestDatabase database;
    private final List<Faults> servers = new ArrayList<>();
    private Store store;

    ReadingFromTest(TestDatabase database) {
        this.database = database;
    }

    @BeforeEach
    void open() {
        for (String place : List.of("primary", "first", "second")) {
            Faults server = Faults.in(database.empty());
            servers.add(server);
            try (Store own = Trips.open(MODEL, server.source())) {
                own.schema().createMissing();
                own.run(work -> work.add(new Lamp(place)));
            }
        }
        store = Trips.open(MODEL, servers.get(0).source())
                .readingFrom(servers.get(1).source(), servers.get(2).source());
    }

    @AfterEach
    void everyConnectionIsGivenBack() {
        assertThat(servers).allMatch(server -> server.open() == 0);
    }

    private String seen(Terms terms) {
        return store.call(terms, work -> work.require(Lamp.class, 1).place());
    }

    private List<String> seen(Terms terms, int times) {
        List<String> places = new ArrayList<>();
        for (int i = 0; i < times; i++) {
            places.add(seen(terms));
        }
        return places;
    }

    @Test
    void unitsThatReadGoToStandbysInTurnAndAllElseToThePrimary() {
        assertThat(seen(Terms.reading(), 4)).containsExactly("first", "second", "first", "second");
        assertThat(seen(Terms.retrying(3))).isEqualTo("primary");
        assertThat(seen(Terms.reading().upToDate())).isEqualTo("primary");
        assertThat(seen(Terms.reading().isolation(Isolation.SERIALIZABLE))).isEqualTo("primary");
        assertThat(store.sql("select place from lamp").as(String.class).one()).isEqualTo("primary");
        String plain = store.transaction(
                Terms.reading(),
                tx -> tx.sql("select place from lamp").as(String.class).one());
        assertThat(plain).isEqualTo("first");
        store.run(work -> {
            work.require(Lamp.class, 1).place = "repainted";
            work.flush();
            assertThat(work.from(Lamp.class).one().place()).isEqualTo("repainted");
        });
        assertThatThrownBy(store::readingFrom).hasMessageContaining("readingFrom() names no standby");
    }

    @Test
    void aStandbyThatIsGoneIsLeftAloneAndThePrimaryHasToDoWhereNoneIsThere() {
        servers.get(1).onConnection().always().failsWith(() -> new SQLException("gone", "08006"));
        assertThat(seen(Terms.reading(), 4)).containsOnly("second");
        servers.get(1).clear();
        assertThat(seen(Terms.reading(), 2)).as("it is left alone for a while").containsOnly("second");
        servers.get(2).onConnection().always().failsWith(() -> new SQLException("gone", "08006"));
        store.run(Terms.reading(), work -> {
            assertThat(work.require(Lamp.class, 1).place()).isEqualTo("primary");
            assertThat(work.trace().toString()).contains("on the primary: no standby is there");
        });
    }

    @Test
    void aStandbyThatIsLostInTheMiddleIsLeftAloneToo() {
        servers.get(1).on(1).connectionLost();
        assertThat(seen(Terms.retrying(2).readOnly())).isEqualTo("second");
        assertThat(seen(Terms.reading(), 2)).containsOnly("second");
    }

    @Test
    void aPositionOfAnotherProductIsRefusedAndNoConnectionIsKept() {
        Position others = Position.parse(database == TestDatabase.MARIADB ? "wal-0/16B3748" : "gtid-0-1-9,1-1-4");
        assertThatThrownBy(() -> seen(Terms.reading().notBefore(others)))
                .hasMessageContaining("the position " + others + " is none of ");
        assertThat(seen(Terms.reading()))
                .as("none of them is left alone for that")
                .isEqualTo("second");
        for (String text : List.of("", "wal-", "wal-0/1'; drop table lamp; --", "gtid-0-1", "0/16B3748")) {
            assertThatThrownBy(() -> Position.parse(text)).hasMessageContaining("'" + text + "' is no position");
        }
    }

    @Test
    void withoutAStandbyNoPositionIsTold() {
        try (UnitOfWork work = Trips.open(MODEL, servers.get(0).source()).begin()) {
            work.require(Lamp.class, 1).place = "repainted";
            int before = servers.get(0).statements();
            assertThat(work.commit().position()).isEmpty();
            assertThat(work.position()).isEmpty();
            assertThat(servers.get(0).statements() - before).isEqualTo(1);
        }
    }
}
