package io.bathra.contract;

import static io.bathra.model.Declare.generated;
import static io.bathra.model.Declare.keyTable;
import static io.bathra.model.Declare.sequence;
import static io.bathra.model.Declare.timeOrdered;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.ModelException;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.KeyOption;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.OtherProcess;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import java.util.stream.LongStream;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Every way in which new rows get their keys. */
@OnEachDatabase
class GeneratorTest {
    static final class Ticket {
        private Long id;
        private String title = "ticket";
        private final Link<Ticket> follows = Link.empty();

        Long id() {
            return id;
        }
    }

    static final class Permit {
        private int id;

        int id() {
            return id;
        }
    }

    static final class Event {
        private UUID id;
        private final Link<Event> cause = Link.empty();

        UUID id() {
            return id;
        }
    }

    private final TestDatabase database;
    private final DataSource source;

    GeneratorTest(TestDatabase database) {
        this.database = database;
        source = database.empty();
    }

    private static Model tickets(KeyOption source) {
        return Model.of(
                "tickets",
                Entity.of(Ticket.class, Ticket::new).key(Ticket::id, source),
                Entity.of(Permit.class, Permit::new).key(Permit::id, source));
    }

    private Store open(Model model) {
        Store store = Trips.open(model, source);
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
        assertThat(store.schema().createMissing().nothingToDo()).isTrue();
        return store;
    }

    private static List<Ticket> add(Store store, int count) {
        List<Ticket> tickets = Stream.generate(Ticket::new).limit(count).toList();
        for (int i = 1; i < count; i++) {
            tickets.get(i).follows.set(tickets.get(i - 1));
        }
        store.run(work -> tickets.forEach(work::add));
        return tickets;
    }

    @Test
    void aSequenceDrawsBlocksAndNothingOfThemIsWasted() {
        assumeThat(database).as("SQLite has no sequences").isNotEqualTo(TestDatabase.SQLITE);
        Store store = open(tickets(sequence("ticket_numbers", 10)));
        assertThat(add(store, 7)).extracting(Ticket::id).containsExactlyElementsOf(range(1, 7));
        assertThat(add(store, 7)).extracting(Ticket::id).containsExactlyElementsOf(range(8, 14));
        store.run(work -> {
            work.add(new Permit());
            work.flush();
            assertThat(work.from(Permit.class).one().id())
                    .as("two tables share it")
                    .isEqualTo(15);
        });
        Store other = Trips.open(tickets(sequence("ticket_numbers", 10)), source);
        assertThat(add(other, 1)).extracting(Ticket::id).containsExactly(21L);
    }

    @Test
    void sqliteSaysWhatToTakeInstead() {
        assumeThat(database).isEqualTo(TestDatabase.SQLITE);
        Store store = Trips.open(tickets(sequence("ticket_numbers", 10)), source);
        assertThatThrownBy(() -> store.schema().createMissing())
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("'ticket_numbers' cannot draw keys there; declare keyTable(...) or generated()");
    }

    @Test
    void aKeyTableCountsForEachEntity() {
        Store store = open(tickets(keyTable("next keys", 1000)));
        assertThat(add(store, 3)).extracting(Ticket::id).containsExactly(1000L, 1001L, 1002L);
        assertThat(add(store, 1)).extracting(Ticket::id).containsExactly(1003L);
        store.run(work -> work.add(new Permit()));
        store.run(work -> assertThat(work.from(Permit.class).one().id()).isEqualTo(1000));
        try (UnitOfWork work = store.begin()) {
            work.add(new Ticket());
            work.flush();
        }
        assertThat(add(store, 1))
                .extracting(Ticket::id)
                .as("what was rolled back is drawn again")
                .containsExactly(1004L);
        store.schema().recreate("tickets");
        assertThat(add(store, 1))
                .extracting(Ticket::id)
                .as("the table outlives those that draw from it")
                .containsExactly(1005L);
    }

    private static final int UNITS = 25;
    private static final int EACH = 8;

    /** Stores tickets in the database at a URL, and prints their keys. */
    static final class Drawing {
        private Drawing() {}

        public static void main(String[] arguments) {
            try (Store store = Trips.open(tickets(keyTable("keys", 1)), arguments[0])) {
                for (int i = 0; i < UNITS; i++) {
                    add(store, EACH).forEach(ticket -> System.out.println("key " + ticket.id));
                }
            }
        }
    }

    @Test
    void twoProcessesDrawFromOneKeyTableAtOnce() throws IOException, InterruptedException, SQLException {
        String url = database.sharedUrl();
        try (Connection kept = DriverManager.getConnection(url); // H2 serves others while it is open
                Store store = Trips.open(tickets(keyTable("keys", 1)), url)) {
            assertThat(kept.isClosed()).isFalse();
            store.schema().createMissing();
            List<OtherProcess> processes =
                    List.of(OtherProcess.run(Drawing.class, url), OtherProcess.run(Drawing.class, url));
            List<Long> keys = new ArrayList<>();
            for (OtherProcess process : processes) {
                process.output().stream()
                        .filter(line -> line.startsWith("key "))
                        .forEach(line -> keys.add(Long.valueOf(line.substring(4))));
            }
            assertThat(keys.stream().sorted().toList())
                    .as("no duplicate and no gap")
                    .isEqualTo(range(1, 2 * UNITS * EACH));
        }
    }

    @Test
    void timeOrderedKeysSortByTheTimeAtWhichTheyWereMade() {
        Model model = Model.of("events", Entity.of(Event.class, Event::new).key(Event::id, timeOrdered()));
        Instant time = Instant.parse("2026-04-01T06:30:00.250Z");
        Store now = open(model);
        now.run(work -> work.add(new Event()));
        Store store = now.withClock(Clock.fixed(time, ZoneOffset.UTC)); // though keys of later times are made already
        List<Event> events = Stream.generate(Event::new).limit(5000).toList();
        for (int i = 1; i < events.size(); i++) {
            events.get(i).cause.set(events.get(i - 1));
        }
        store.run(work -> events.forEach(work::add));
        assertThat(events).extracting(Event::id).allSatisfy(id -> {
            assertThat(id.version()).isEqualTo(7);
            assertThat(id.variant()).isEqualTo(2);
        });
        assertThat(events.get(0).id.getMostSignificantBits() >>> 16).isEqualTo(time.toEpochMilli());
        assertThat(events).extracting(event -> event.id.toString()).isSorted().doesNotHaveDuplicates();
        store.run(work -> assertThat(
                        work.require(Event.class, events.get(9).id).cause.get().id)
                .isEqualTo(events.get(8).id));
    }

    @ParameterizedTest
    @ValueSource(longs = {290, 500_000})
    void aGeneratorThatLagsBehindIsReportedAndMovedOn(long byHand) {
        assumeThat(Trips.CLUSTER && byHand < 1_000)
                .as("each node of a cluster has keys at hand that others do not see")
                .isFalse();
        List<KeyOption> sources = database == TestDatabase.SQLITE
                ? List.of(generated(), keyTable("keys", 1))
                : List.of(generated(), keyTable("keys", 1), sequence("numbers", 5));
        for (KeyOption one : sources) {
            Store store = Trips.open(tickets(one), source);
            store.schema().recreate("tickets");
            add(store, 3);
            assertThat(store.schema().verify()).isEmpty();
            assertThat(store.schema().moveGenerators()).isEmpty();
            TestDatabase.execute(source, "insert into ticket (id, title) values (" + byHand + ", 'by hand')");
            if (database == TestDatabase.SQLITE && one == sources.get(0)) { // which moves on by itself, but not back
                TestDatabase.execute(source, "update sqlite_sequence set seq = 3 where name = 'ticket'");
            }
            assertThat(store.schema().verify()).singleElement().satisfies(difference -> {
                assertThat(difference.place()).isEqualTo("ticket.id");
                assertThat(difference.found()).startsWith("the key " + byHand + " is stored, but the generator is at ");
            });
            assertThat(store.schema().moveGenerators()).hasSize(1);
            assertThat(store.schema().verify()).isEmpty();
            assertThat(add(store, 2)).extracting(Ticket::id).allMatch(id -> id > byHand && id < byHand + 1_000);
        }
    }

    @Test
    void aGeneratorThatIsNotThereIsReported() {
        List<KeyOption> sources = database == TestDatabase.SQLITE
                ? List.of(keyTable("next_keys", 1))
                : List.of(keyTable("next_keys", 1), sequence("numbers", 5));
        for (KeyOption one : sources) {
            Store store = Trips.open(tickets(one), source);
            store.schema().recreate("tickets");
            TestDatabase.execute(
                    source,
                    one == sources.get(0) ? "delete from next_keys where owner = 'ticket'" : "drop sequence numbers");
            assertThat(store.schema().verify())
                    .anySatisfy(difference -> assertThat(difference.toString())
                            .matches("ticket.id: there is no generator (next_keys|numbers) to draw its keys.*"));
        }
    }

    @Test
    void aKeyThatCannotBeDrawnIsAFault() {
        assertThatThrownBy(() -> Model.of(
                        "faulty",
                        Entity.of(Event.class, Event::new).key(Event::id, generated()),
                        Entity.of(Ticket.class, Ticket::new).key(Ticket::id, timeOrdered())))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("Event.id: is a UUID, which the database cannot draw")
                .hasMessageContaining("Ticket.id: is a Long, which holds no UUID");
        assertThatThrownBy(() -> sequence("s", 0)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> keyTable(" ", 1)).isInstanceOf(IllegalArgumentException.class);
    }

    private static List<Long> range(long first, long last) {
        return LongStream.rangeClosed(first, last).boxed().toList();
    }
}
