package io.bathra.contract;

import static io.bathra.Isolation.SERIALIZABLE;
import static io.bathra.Outcome.COMMITTED;
import static io.bathra.Outcome.ROLLED_BACK;
import static io.bathra.Outcome.UNKNOWN;
import static io.bathra.query.Ask.text;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.FlushReport;
import io.bathra.Savepoint;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitListener;
import io.bathra.UnitOfWork;
import io.bathra.attr.Event;
import io.bathra.error.StatementTimeout;
import io.bathra.error.UniqueViolation;
import io.bathra.error.UnitStateException;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.FaultySource;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Units in a transaction of a program that knows JDBC alone, which begins it, ends it, and tells how. */
@OnEachDatabase
class GuestTest extends BoatContract {
    /** What only a host does to a connection. */
    private static final Set<String> OF_THE_HOST = Set.of(
            "commit", "rollback", "close", "setSavepoint", "setAutoCommit", "setReadOnly", "setTransactionIsolation");

    private Connection host;

    private final FaultySource source = new FaultySource(plain);

    GuestTest(TestDatabase database) {
        super(database);
    }

    @BeforeEach
    void begin() throws SQLException {
        host = source.wrapped().getConnection();
        if (database == TestDatabase.SQLITE) {
            execute("pragma foreign_keys = on");
        }
        host.setAutoCommit(false);
    }

    @AfterEach
    void giveBack() throws SQLException {
        source.mend();
        host.rollback();
        host.setAutoCommit(true);
        host.close();
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = host.createStatement()) {
            statement.execute(sql);
        }
    }

    /** What the host sees. */
    private List<String> names() throws SQLException {
        List<String> names = new ArrayList<>();
        try (Statement statement = host.createStatement();
                ResultSet rows = statement.executeQuery("select name from boat order by code")) {
            while (rows.next()) {
                names.add(rows.getString(1));
            }
        }
        return names;
    }

    private Boat added(UnitOfWork work, String code) {
        Boat boat = new Boat(code);
        boat.owner.set(work.require(Owner.class, keys.of("owner", 1)));
        work.add(boat);
        return boat;
    }

    @Test
    void aGuestSendsNothingOfItsOwn() throws SQLException {
        execute("update boat set name = 'by hand' where code = 'C'");
        List<String> calls = new ArrayList<>();
        source.inject((connection, method, argument) -> {
            if (OF_THE_HOST.contains(method)) {
                calls.add(method);
            }
        });
        try (UnitOfWork work = store.join(host)) {
            boat(work, 1).name = "guest";
            assertThat(work.commit().total().updated()).isEqualTo(1);
            added(work, "C");
            assertThatThrownBy(work::flush).isInstanceOf(UniqueViolation.class);
            work.discard();
            work.ended(COMMITTED);
            boat(work, 1).name = "again";
            work.commit();
            work.ended(ROLLED_BACK);
            work.discard();
            assertThat(work.trace().lines()).extracting(line -> line.sql()).noneMatch(sql -> sql.startsWith("begin"));
        }
        assertThat(calls).isEmpty();
        source.mend();
        assertThat(names()).containsExactly("again", "boat B", "by hand");
        host.rollback();
        assertThat(names()).containsExactly("boat A", "boat B", "boat C");
    }

    @Test
    void theTransactionMustBeOneOfTheHosts() throws SQLException {
        host.setAutoCommit(true);
        try (UnitOfWork work = store.join(host)) {
            assertThatThrownBy(() -> boat(work, 1)).hasMessageContaining("setAutoCommit(false)");
        }
        host.setAutoCommit(false);
        assertThatThrownBy(() -> store.join(host, Terms.reading().isolation(SERIALIZABLE)))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining(
                        "leave isolation(...), lockTimeout(...), upToDate() and notBefore(...) out of these terms");
        assertThatThrownBy(() -> store.join(host, Terms.reading().lockTimeout(Duration.ofSeconds(1))))
                .isInstanceOf(IllegalArgumentException.class);
        store.run(work -> assertThatThrownBy(() -> work.ended(COMMITTED))
                .isInstanceOf(UnitStateException.class)
                .hasMessageContaining("a transaction of its own"));
    }

    @Test
    void twoGuestsWorkSideBySide() throws SQLException {
        UnitOfWork one = store.join(host);
        added(one, "D");
        one.flush();
        host.commit();
        UnitOfWork two = store.join(host);
        added(two, "E");
        two.flush();
        one.close();
        two.commit();
        host.commit();
        assertThat(names()).containsExactly("boat A", "boat B", "boat C", "boat D", "boat E");
        Boat e = two.from(Boat.class).where(text(Boat::code).is("E")).one();
        try (UnitOfWork three = store.join(host)) {
            e.name = "two";
            Savepoint place = two.savepoint();
            boat(three, 1).name = "three";
            three.savepoint();
            e.name = "taken back";
            two.flush();
            place.rollback();
            assertThat(e.name).isEqualTo("two");
        }
        two.ended(COMMITTED);
        two.close();
        assertThat(names().get(4)).isEqualTo("two");
    }

    @Test
    void aCommitSettles() throws SQLException {
        List<String> told = new ArrayList<>();
        try (UnitOfWork work = store.join(host)) {
            work.listen(listener(told));
            Boat fresh = added(work, "D");
            assertThat(work.commit().total().inserted()).isEqualTo(1);
            boat(work, 1).name = "second";
            assertThat(work.commit().total().updated()).isEqualTo(1);
            assertThat(told).containsExactly("flushed", "flushed");
            host.commit();
            work.ended(COMMITTED);
            assertThat(told).containsExactly("flushed", "flushed", "committed [D]");
            assertThat(work.standing(fresh)).isEqualTo(Standing.CLEAN);
            fresh.name = "third";
            work.commit();
            host.rollback();
            work.ended(ROLLED_BACK);
            assertThat(work.standing(fresh)).isEqualTo(Standing.DIRTY);
            assertThat(told).endsWith("flushed", "rolled back");
            work.commit();
            host.commit();
            work.ended(COMMITTED);
        }
        assertThat(names()).containsExactly("second", "boat B", "boat C", "third");
    }

    private static UnitListener listener(List<String> told) {
        return new UnitListener() {
            @Override
            public void flushed(UnitOfWork work, FlushReport report) {
                told.add("flushed");
            }

            @Override
            public void committed(UnitOfWork work, FlushReport report) {
                told.add("committed "
                        + work.from(Boat.class).where(text(Boat::code).is("D")).list());
            }

            @Override
            public void rolledBack(UnitOfWork work) {
                told.add("rolled back");
            }
        };
    }

    @Test
    void workAfterTheCommitWaitsForTheHost() throws SQLException {
        List<String> done = new ArrayList<>();
        Model telling = Model.of(
                "telling",
                Entity.of(Owner.class, Owner::new).links(Owner::boats, Boat::owner),
                Entity.of(Boat.class, Boat::new)
                        .parts(Boat::crew)
                        .pivot(Boat::friends)
                        .version(Boat::revision)
                        .afterCommit(Event.INSERT, boat -> done.add(boat.code)));
        try (Store other = Trips.open(telling, source.wrapped());
                UnitOfWork work = other.join(host)) {
            added(work, "D");
            work.commit();
            host.rollback();
            work.ended(ROLLED_BACK);
            assertThat(done).isEmpty();
            work.commit();
            assertThat(done).isEmpty();
            host.commit();
            work.ended(COMMITTED);
            assertThat(done).containsExactly("D");
        }
        assertThat(logged(() -> {
                    try (UnitOfWork work = store.join(host)) {
                        boat(work, 1).name = "flushed";
                        work.commit();
                    }
                }))
                .isEmpty();
        assertThat(logged(() -> {
                    try (Store other = Trips.open(telling, source.wrapped());
                            UnitOfWork work = other.join(host)) {
                        added(work, "E");
                        work.commit();
                        boat(work, 1).name = "never flushed";
                    }
                }))
                .contains("1 pending changes that were never flushed")
                .contains("1 listeners waited to be told of the commit");
    }

    @Test
    void aRollbackTakesBack() throws SQLException {
        try (UnitOfWork work = store.join(host)) {
            Boat first = boat(work, 1);
            first.name = "changed";
            first.crew.add("Jan");
            Boat fresh = added(work, "D");
            work.remove(boat(work, 3));
            work.commit();
            Boat read = boat(work, 2);
            host.rollback();
            work.ended(ROLLED_BACK);
            assertThat(fresh.id).isNull();
            assertThat(work.standing(fresh)).isEqualTo(Standing.NEW);
            assertThat(work.standing(first)).isEqualTo(Standing.DIRTY);
            assertThat(first.revision).isZero();
            assertThat(work.standing(read)).as("read after the first write").isEqualTo(Standing.UNTRACKED);
            work.commit();
            host.commit();
            work.ended(COMMITTED);
            assertThat(first.revision).isEqualTo(1);
        }
        assertThat(names()).containsExactly("changed", "boat B", "boat D");
    }

    @Test
    void aGuestCannotRollBackItsHost() throws SQLException {
        try (UnitOfWork work = store.join(host)) {
            boat(work, 1).name = "pending";
            work.rollback();
            assertThat(boat(work, 1).name).isEqualTo("pending");
            work.flush();
            assertThatThrownBy(work::rollback)
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("the host's, who alone can roll it back");
            assertThatThrownBy(work::commit).isInstanceOf(UnitStateException.class);
            host.rollback();
            work.ended(ROLLED_BACK);
            work.commit();
            host.commit();
        }
        assertThat(names()).containsExactly("pending", "boat B", "boat C");
    }

    /** A host may commit what the guest wanted back; then that is what there is. */
    @Test
    void aHostDecides() throws SQLException {
        try (UnitOfWork work = store.join(host)) {
            Boat first = boat(work, 1);
            first.name = "wanted back";
            work.flush();
            assertThatThrownBy(work::rollback).isInstanceOf(UnitStateException.class);
            host.commit();
            work.ended(COMMITTED);
            assertThat(work.standing(first)).isEqualTo(Standing.CLEAN);
            first.name = "goes on";
            work.commit();
            host.commit();
        }
        assertThat(names()).startsWith("goes on");
    }

    @Test
    void theHostsConnectionMayBeClosedBefore() throws SQLException {
        UnitOfWork work = store.join(host, Terms.retrying(1).statementTimeout(Duration.ofSeconds(20)));
        boat(work, 1).name = "left behind";
        work.commit();
        host.rollback();
        host.close();
        work.ended(ROLLED_BACK);
        work.close();
        host = source.wrapped().getConnection();
        host.setAutoCommit(false);
        assertThat(names()).startsWith("boat A");
    }

    @Test
    void whatNobodyKnowsIsNotTracked() throws SQLException {
        try (UnitOfWork work = store.join(host)) {
            Boat clean = boat(work, 1);
            Boat changed = boat(work, 2);
            changed.name = "maybe";
            Boat fresh = added(work, "D");
            work.commit();
            Boat read = boat(work, 3);
            host.commit();
            work.ended(UNKNOWN);
            assertThat(List.of(changed, fresh, read))
                    .allSatisfy(boat -> assertThat(work.standing(boat)).isEqualTo(Standing.UNTRACKED));
            assertThat(work.standing(clean)).isEqualTo(Standing.CLEAN);
            assertThatThrownBy(() -> boat(work, 1))
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("nobody knows whether the host's transaction was committed");
            work.ended(ROLLED_BACK); // which is no news
        }
    }

    @Test
    void afterAFailedStatementNothingIsFlushedLast() throws SQLException {
        try (UnitOfWork work = store.join(host)) {
            boat(work, 1).name = "never";
            work.flush();
            assertThatThrownBy(() -> work.sql("select nothing from nowhere").list());
            assertThatThrownBy(work::commit)
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("roll back and do the work again");
            host.rollback(); // PostgreSQL would answer a commit with this
            work.ended(COMMITTED);
            assertThatThrownBy(work::flush).hasMessageContaining("nobody knows whether");
        }
        assertThat(names()).containsExactly("boat A", "boat B", "boat C");
    }

    @Test
    void placesOfTheHostArePlacesOfTheUnit() throws SQLException {
        try (UnitOfWork work = store.join(host)) {
            boat(work, 1).name = "before";
            work.flush();
            java.sql.Savepoint hosts = host.setSavepoint();
            Savepoint place = work.savepoint();
            for (int i = 0; i < 2; i++) {
                boat(work, 2).name = "after";
                Boat fresh = added(work, "D");
                work.flush();
                host.rollback(hosts);
                place.wentBack();
                assertThat(boat(work, 2).name).isEqualTo("boat B");
                assertThat(work.standing(fresh)).isEqualTo(Standing.UNTRACKED);
            }
            boat(work, 3).name = "after";
            work.flush();
            place.rollback();
            work.commit();
            host.commit();
            work.ended(COMMITTED);
        }
        assertThat(names()).containsExactly("before", "boat B", "boat C");
    }

    @Test
    void termsOfAGuestAreObeyed() throws SQLException {
        try (UnitOfWork work = store.join(host, Terms.reading())) {
            assertThat(boat(work, 1).name).isEqualTo("boat A");
            assertThatThrownBy(() -> work.add(new Boat("D"))).hasMessageContaining("read-only");
            assertThatThrownBy(() -> work.sql("update boat set name = 'x'").execute())
                    .hasMessageContaining("read-only");
        }
        Terms limited = Terms.retrying(1).statementTimeout(Duration.ofMillis(200));
        try (UnitOfWork work = store.join(host, limited)) {
            boat(work, 1).name = "guest";
            work.flush();
            assertThat(names()).as("in the host's transaction").startsWith("guest");
            assertThatThrownBy(() -> work.sql(TransferTest.endless(database))
                            .as(Long.class)
                            .one())
                    .isInstanceOf(StatementTimeout.class);
        }
        try (Statement statement = host.createStatement()) {
            assertThat(statement.getQueryTimeout()).as("of the host").isZero();
        }
        host.rollback();
        assertThat(names()).containsExactly("boat A", "boat B", "boat C");
    }
}
