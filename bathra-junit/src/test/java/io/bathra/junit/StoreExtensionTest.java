package io.bathra.junit;

import static io.bathra.junit.BathraAssertions.assertThat;
import static io.bathra.junit.BathraAssertions.assertThatPlan;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.ContentionException;
import io.bathra.error.UniqueViolation;
import io.bathra.junit.Harbour.PortCall;
import io.bathra.junit.Harbour.Vessel;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.jupiter.params.ParameterizedClass;
import org.junit.jupiter.params.provider.EnumSource;

/** The kit, by its own means, on all four databases. */
@ParameterizedClass
@EnumSource
class StoreExtensionTest {
    private final WithStore.Database database;

    @RegisterExtension
    final StoreExtension db;

    StoreExtensionTest(WithStore.Database database) {
        this.database = database;
        db = StoreExtension.of(Harbour.MODEL).on(database.database());
    }

    @RepeatedTest(2)
    void eachTestFindsEmptyTablesAndGeneratorsAtTheirBeginning() {
        Vessel vessel = new Vessel("9000001", "Nordlicht");
        db.add(new PortCall(vessel, 3));
        assertThat(vessel.id).isEqualTo(1);
        assertThat(db.statements()).none();
        db.assertRows("""
                vessel
                  id       | imo     | name      | revision
                  vessel#1 | 9000001 | Nordlicht | 0

                port_call
                  id          | noted | berth | vessel_id
                  port_call#1 | now   | 3     | vessel#1
                """);
    }

    @Test
    void rowsAreGivenAsTexts() {
        db.addCsv(Vessel.class, """
                imo,name
                0000042,"Kittiwake, ""the old"" one"
                9000001, "NO"
                """);
        db.addYaml(PortCall.class, """
                - { vessel.imo: 0000042, berth: 3 }
                - { vessel.imo: 9000001, berth: 4 }
                """);
        assertThat(db.rows("vessel", "imo", "name")).isEqualTo("""
                vessel
                  imo     | name
                  0000042 | Kittiwake, "the old" one
                  9000001 | NO
                """);
        assertThat(db.rows("port_call", "vessel_id", "berth")).contains("vessel#1  | 3", "vessel#2  | 4");
        assertThatThrownBy(() -> db.assertRows("""
                vessel
                  imo     | name
                  0000042 | Kittiwake
                """))
                .isInstanceOf(AssertionError.class)
                .hasMessageContaining("Kittiwake, \"the old\" one");
        assertThatThrownBy(() -> db.rows("vessels"))
                .hasMessageContaining("no table 'vessels'; it has [vessel, port_call]");
        assertThatThrownBy(() -> db.addCsv(Vessel.class, "imo,name\n1")).hasMessageContaining("has 1 values, but the");
    }

    @Test
    void statementsAreCountedOverAllUnitsAndThreads() throws InterruptedException {
        db.addCsv(Vessel.class, "imo,name\n9000001,Nordlicht\n9000002,Kittiwake\n");
        Thread other = new Thread(() -> db.store().run(work -> work.add(new Vessel("9000003", "Skua"))));
        other.start();
        other.join();
        Statements read = db.during(() -> {
            for (String imo : List.of("9000001", "9000002", "9000003")) {
                db.store()
                        .run(work -> work.from(Vessel.class)
                                .where(the(Vessel::imo).is(imo))
                                .one()
                                .calls
                                .size());
            }
        });
        assertThat(read).selects(6).inserts(0).exactly(6).atMost(6).touchingOnly("vessel", "port_call");
        assertThat(db.statements()).inserts(1);
        assertThat(db.statements().tables()).containsExactlyInAnyOrder("vessel", "port_call");
        assertThatThrownBy(() -> assertThat(read).noneRepeated())
                .isInstanceOf(AssertionError.class)
                .hasMessageContaining("no statement was to be repeated, but these were:")
                .hasMessageContaining("3 times")
                .hasMessageContaining("fix: ");
        assertThatThrownBy(() -> assertThat(read).touchingOnly("vessel"))
                .hasMessageContaining("only [vessel] were to be touched, but so were [port_call]");
        assertThatThrownBy(() -> assertThat(read).atMost(3))
                .hasMessageContaining("at most 3 statements expected, but there were 6")
                .hasMessageContaining("select");
        assertThatThrownBy(() -> assertThat(read).inserts(1)).hasMessageContaining("1 insert statement expected, but");
        assertThatThrownBy(() -> assertThat(read).atMostRoundTrips(1)).hasMessageContaining("at most 1 round trips");
        db.store().run(work -> {
            work.from(Vessel.class)
                    .where(the(Vessel::imo).is("9000001"))
                    .update(the(Vessel::name).to("Tern"));
            work.from(Vessel.class).where(the(Vessel::imo).is("9000002")).delete();
        });
        assertThat(db.statements()).updates(1).deletes(1);
    }

    @Test
    void whatIsSentTogetherIsOneTrip() {
        Statements stored = db.during(() -> db.store().run(work -> {
            work.add(new PortCall(new Vessel("9000003", "Skua"), 1));
            work.add(new PortCall(new Vessel("9000004", "Gull"), 1));
        }));
        boolean server = database == WithStore.Database.POSTGRESQL || database == WithStore.Database.MARIADB;
        assertThat(stored).inserts(2);
        assertThat(stored.roundTrips()).isEqualTo(server ? 2 : stored.count() + 1);
    }

    @Test
    void theClockStandsStillUntilItIsSet() {
        PortCall earlier = new PortCall(new Vessel("9000001", "Nordlicht"), 1);
        db.add(earlier);
        PortCall call = new PortCall(new Vessel("9000002", "Tern"), 1);
        db.clock().advance(Duration.ofHours(2));
        db.store().run(work -> work.add(call));
        assertThat(call.noted).isEqualTo("2026-01-02T05:04:05Z");
        assertThat(db.rows("port_call", "noted").lines().skip(3)).containsExactly("  now");
        assertThat(db.rows("port_call", "noted").lines().skip(2).findFirst()).isNotEqualTo(Optional.of("  now"));
    }

    @Test
    void plansNeedNoDatabase() {
        Vessel vessel = new Vessel("9000001", "Nordlicht");
        PortCall call = new PortCall(vessel, 2);
        assertThatPlan(Harbour.MODEL, call)
                .inserts(Vessel.class, 1)
                .before(PortCall.class)
                .inserts(PortCall.class, 1)
                .steps(2);
        assertThatThrownBy(() -> assertThatPlan(Harbour.MODEL, call).inserts(Vessel.class, 2))
                .hasMessageContaining("insert Vessel: 2 rows expected, but there are 1\nthe plan:")
                .hasMessageContaining("insert     port_call");
        assertThatThrownBy(() -> assertThatPlan(Harbour.MODEL, call)
                        .inserts(PortCall.class, 1)
                        .before(Vessel.class))
                .hasMessageContaining("insert PortCall was to come before Vessel");
        db.add(vessel);
        db.store().run(work -> {
            work.require(Vessel.class, vessel.id).name = "Tern";
            assertThatPlan(work)
                    .updates(Vessel.class, 1)
                    .deletes(Vessel.class, 0)
                    .steps(1);
            work.discard();
            assertThatPlan(work).isEmpty();
        });
    }

    @Test
    void aConnectionThatWasGivenBackIsOfNoUse() throws SQLException {
        Connection connection = db.source().getConnection();
        connection.close();
        connection.close();
        assertThat(connection.isClosed()).isTrue();
        assertThatThrownBy(connection::createStatement).hasMessageContaining("has been given back");
    }

    // ---- faults

    @Test
    void faultsAreThoseOfTheDatabase() {
        Store store = db.store();
        db.faults().on(1).uniqueViolation();
        assertThatThrownBy(() -> add("9000001")).isInstanceOf(UniqueViolation.class);
        db.faults()
                .onStatement(sql -> sql.startsWith("insert into vessel") || sql.startsWith("copy vessel"))
                .deadlock();
        assertThatThrownBy(() -> add("9000001")).isInstanceOf(ContentionException.class);
        db.faults().on(1).lockTimeout();
        assertThatThrownBy(() -> add("9000001")).isInstanceOf(ContentionException.class);
        db.faults().on(1).serializationFailure();
        assertThatThrownBy(() -> add("9000001")).isInstanceOf(ContentionException.class);
        db.faults().on(1).connectionLost();
        assertThatThrownBy(() -> add("9000001"))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("connection");
        db.faults().on(1).failsWith(() -> new SQLException("out of order", "58000"));
        assertThatThrownBy(() -> add("9000001")).hasMessageContaining("out of order");
        db.faults().onConnection().connectionLost();
        assertThatThrownBy(() -> add("9000001")).isInstanceOf(BathraException.class);
        db.faults().onCommit().connectionLost();
        assertThatThrownBy(() -> add("9000001")).isInstanceOf(BathraException.class);
        store.run(work -> assertThat(work.from(Vessel.class).count()).isZero());
        db.faults().on(1).slow(Duration.ofMillis(1));
        add("9000001");
        db.faults().onCommit().replyIsLost();
        assertThatThrownBy(() -> add("9000002")).isInstanceOf(CommitUnknownException.class);
        store.run(work ->
                assertThat(work.from(Vessel.class).count()).as("it was done").isEqualTo(2));
        db.faults().on(7).deadlock();
        assertThat(db.faults().waiting()).containsExactly("a deadlock at statement 7");
        db.faults().clear();
    }

    /** PostgreSQL's driver takes them behind a COPY, to which a connection is unwrapped. */
    @Test
    void whatADriverAloneKnowsIsTakenCountedAndFails() {
        List<Vessel> many = IntStream.range(0, 300)
                .mapToObj(i -> new Vessel(String.valueOf(9_000_000 + i), "Vessel " + i))
                .toList();
        String first = database == WithStore.Database.POSTGRESQL ? "copy vessel" : "insert into vessel";
        db.faults().onStatement(sql -> sql.startsWith(first)).connectionLost();
        assertThatThrownBy(() -> db.store().bulk(Vessel.class).insert(many)).isInstanceOf(BathraException.class);
        db.store().run(work -> assertThat(work.from(Vessel.class).count()).isZero());
        Statements stored = db.during(() -> db.store().bulk(Vessel.class).insert(many));
        assertThat(stored.list()).anySatisfy(line -> assertThat(line.sql()).startsWith(first));
        assertThat(stored.tables()).containsExactly("vessel");
        db.store().run(work -> assertThat(work.from(Vessel.class).count()).isEqualTo(300));
    }

    private void add(String imo) {
        db.store().run(work -> work.add(new Vessel(imo, "Nordlicht")));
    }

    @Test
    void whicheverStatementFailsNothingHasHappened() {
        Vessel there = new Vessel("9000001", "Nordlicht");
        db.add(there);
        Vessel fresh = new Vessel("9000002", "Tern");
        PortCall call = new PortCall(fresh, 4);
        int statements = db.everyStatementFails(
                work -> {
                    work.require(Vessel.class, there.id).name = "Skua";
                    work.add(call);
                },
                fresh,
                call);
        assertThat(statements).isGreaterThanOrEqualTo(4);
        assertThat(fresh.id).isNotNull();
        assertThat(db.rows("vessel", "imo", "name", "revision")).contains("9000001 | Skua | 1", "9000002 | Tern | 0");
        assertThatThrownBy(() -> db.everyStatementFails(work -> {
                    try {
                        work.add(new Vessel("9000003", "Skua"));
                        work.flush();
                    } catch (BathraException e) {
                        work.discard(); // and goes on as if nothing were
                    }
                }))
                .isInstanceOf(AssertionError.class)
                .hasMessageContaining("has failed, but nothing came out of the work");
    }

    // ---- turns

    @Test
    void aLostUpdateComesAboutEachTime() {
        Vessel vessel = new Vessel("9000001", "Nordlicht");
        db.add(vessel);
        assumeThat(database).as("which has one writer at a time").isNotEqualTo(WithStore.Database.SQLITE);
        Turns turns = Turns.inOrder("Ada has read", "Bo has read", "Ada goes on", "Ada is done", "Bo goes on");
        List<@Nullable Throwable> failures = turns.run(
                () -> {
                    db.store().run(work -> {
                        Vessel own = work.require(Vessel.class, vessel.id);
                        turns.pass("Ada has read");
                        turns.pass("Ada goes on");
                        own.name = "Ada's";
                    });
                    turns.pass("Ada is done");
                },
                () -> db.store().run(work -> {
                    Vessel own = work.require(Vessel.class, vessel.id);
                    turns.pass("Bo has read");
                    turns.pass("Bo goes on");
                    own.name = "Bo's";
                }));
        assertThat(failures.get(0)).isNull();
        assertThat(failures.get(1)).isInstanceOf(ConcurrentChangeException.class);
    }

    @Test
    void aDeadlockComesAboutEachTime() {
        assumeThat(database).as("which has one writer at a time").isNotEqualTo(WithStore.Database.SQLITE);
        Vessel one = new Vessel("9000001", "One");
        Vessel two = new Vessel("9000002", "Two");
        db.add(one, two);
        for (int i = 0; i < 2; i++) {
            Turns turns = Turns.inOrder("Ada has one", "Bo has two", "Ada wants two", "Bo wants one");
            List<@Nullable Throwable> failures = turns.run(
                    () -> take(one, two, turns, "Ada has one", "Ada wants two"),
                    () -> take(two, one, turns, "Bo has two", "Bo wants one"));
            assertThat(failures)
                    .filteredOn(failure -> failure != null)
                    .singleElement()
                    .isInstanceOf(ContentionException.class);
        }
    }

    private void take(Vessel first, Vessel second, Turns turns, String has, String wants) {
        db.store().run(work -> {
            touch(work, first);
            turns.pass(has);
            turns.pass(wants);
            touch(work, second);
        });
    }

    private static void touch(UnitOfWork work, Vessel vessel) {
        work.from(Vessel.class)
                .where(the(Vessel::imo).is(vessel.imo))
                .update(the(Vessel::name).to("taken"));
    }

    @Test
    void turnsThatCannotComeAreTold() {
        Turns turns = Turns.inOrder("first", "second");
        assertThatThrownBy(() -> turns.run(() -> turns.pass("second"), () -> {}))
                .isInstanceOf(AssertionError.class)
                .hasMessageContaining("'second' is waited for, but 'first' comes before it and has not been passed");
        assertThatThrownBy(() -> turns.pass("third")).hasMessageContaining("there is no point 'third'");
        assertThatThrownBy(() -> Turns.inOrder("a", "a")).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void parametersAreFilled(Store store, UnitOfWork work) {
        assertThat(store).isSameAs(db.store());
        work.add(new Vessel("9000001", "Nordlicht"));
        work.flush();
        assertThat(work.from(Vessel.class).count()).isEqualTo(1);
        assertThat(database).isNotNull();
    }
}
