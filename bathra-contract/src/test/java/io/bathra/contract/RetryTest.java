package io.bathra.contract;

import static io.bathra.Terms.retrying;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.testing.FaultySource;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.SQLNonTransientConnectionException;
import java.sql.SQLTransientConnectionException;
import java.time.Duration;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;

/** Work that is done again where trying again is right: a server that restarts, a connection that dies at the start. */
@OnEachDatabase
class RetryTest extends BoatContract {
    private final TestDatabase database;
    private final FaultySource faulty;

    RetryTest(TestDatabase database) {
        super(database);
        this.database = database;
        this.faulty = new FaultySource(plain);
    }

    private static Connection away() throws SQLException {
        throw new SQLNonTransientConnectionException("the server is going down", "08006");
    }

    @Test
    void aServerThatRestartsIsWaitedFor() throws SQLException {
        DataSource source = mock(DataSource.class);
        AtomicInteger asked = new AtomicInteger();
        when(source.getConnection()).thenAnswer(call -> {
            int time = asked.getAndIncrement();
            return time > 0 && time < 4 ? away() : faulty.unwrapped().getConnection();
        });
        Store restarting = Trips.open(store.model(), source);
        restarting.run(retrying(100).upTo(Duration.ofSeconds(20)), work -> boat(work, 1).name = "again");
        assertThat(asked).hasValue(5);
        assertThat(store.<String, RuntimeException>call(work -> boat(work, 1).name))
                .isEqualTo("again");
    }

    @Test
    void aConnectionThatDiesAtTheStartIsNoEnd() {
        Store other = Trips.open(store.model(), faulty.wrapped());
        AtomicInteger failed = new AtomicInteger();
        Set<String> ending = Set.of("close", "isClosed", "rollback");
        faulty.inject((connection, method, argument) -> {
            if (!ending.contains(method) && failed.get() < 2) {
                failed.incrementAndGet();
                away();
            }
        });
        other.run(retrying(5), work -> boat(work, 1).name = "third");
        assertThat(failed).hasValue(2);
        assertThat(store.<String, RuntimeException>call(work -> boat(work, 1).name))
                .isEqualTo("third");
        assertThat(faulty.open()).isZero();
    }

    @Test
    void whicheverEndsFirstIsSaid() throws SQLException {
        DataSource source = mock(DataSource.class);
        when(source.getConnection()).thenReturn(faulty.unwrapped().getConnection());
        Store gone = Trips.open(store.model(), source);
        when(source.getConnection()).thenAnswer(call -> away());
        AtomicInteger attempts = new AtomicInteger();
        DatabaseUnreachableException failure = catchThrowableOfType(
                DatabaseUnreachableException.class,
                () -> gone.run(retrying(3), work -> {
                    attempts.incrementAndGet();
                    work.from(Boat.class).list();
                }));
        assertThat(attempts).hasValue(3);
        assertThat(failure.getSuppressed()[0])
                .hasMessageContaining("given up after 3 attempts")
                .hasMessageContaining("as retrying(3) says");
        failure = catchThrowableOfType(
                DatabaseUnreachableException.class,
                () -> gone.run(
                        retrying(Integer.MAX_VALUE).upTo(Duration.ofMillis(300)),
                        work -> work.from(Boat.class).list()));
        assertThat(failure.getSuppressed()[0]).hasMessageContaining("as upTo(PT0.3S) says");
        assertThatThrownBy(() -> Terms.reading().upTo(Duration.ofSeconds(1)))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("retrying(n).upTo(...)");
    }

    @Test
    void aPoolWithoutFreeConnectionsIsToldFromADatabaseThatIsAway() throws SQLException {
        AtomicReference<SQLException> trouble = new AtomicReference<>();
        DataSource pool = mock(DataSource.class);
        when(pool.getConnection()).thenAnswer(call -> {
            if (trouble.get() != null) {
                throw trouble.get();
            }
            return faulty.unwrapped().getConnection();
        });
        Store pooled = Trips.open(store.model(), pool);
        trouble.set(new SQLTransientConnectionException("timed out after 10000ms"));
        assertThatThrownBy(() -> pooled.run(work -> work.from(Boat.class).list()))
                .isInstanceOf(DatabaseUnreachableException.class)
                .hasMessageContaining("no connection was free in time");
        trouble.set(new SQLTransientConnectionException(
                "timed out after 10000ms", new SQLException("connection refused", "08001")));
        assertThatThrownBy(() -> pooled.run(work -> work.from(Boat.class).list()))
                .isInstanceOf(DatabaseUnreachableException.class)
                .hasMessageContaining("no connection to the database: connection refused");
    }

    /** MariaDB's driver comes back with a new connection, on which nothing of the transaction is there. */
    @Test
    void aDriverThatHasReconnectedHasLostTheTransaction() {
        if (database != TestDatabase.MARIADB) {
            return;
        }
        faults.on(1).failsWith(() -> new SQLException("the transaction is lost", "25S03"));
        assertThatThrownBy(() -> store.run(work -> boat(work, 1).name = "lost"))
                .isInstanceOf(ConnectionLostException.class);
        faults.onCommit().failsWith(() -> new SQLException("the transaction is lost", "25S03"));
        assertThatThrownBy(() -> store.run(work -> boat(work, 1).name = "lost"))
                .isInstanceOf(CommitUnknownException.class);
    }

    /** Of two that find one deadlock at once, H2 tells the second in other words. */
    @Test
    void aDeadlockIsOneInWhateverWords() {
        if (database != TestDatabase.H2) {
            return;
        }
        faults.on(1)
                .failsWith(() -> new SQLException(
                        "General error: \"Transaction was illegally transitioned from ROLLING_BACK to ROLLING_BACK\"",
                        "HY000",
                        50_000));
        store.run(retrying(2), work -> boat(work, 1).name = "freed");
        assertThat(store.<String, RuntimeException>call(work -> boat(work, 1).name))
                .isEqualTo("freed");
    }

    @Test
    void aServerThatTakesNoWritesSaysSo() {
        if (database == TestDatabase.H2 || database == TestDatabase.MARIADB) {
            return; // they say so before a transaction only
        }
        String readOnly = database == TestDatabase.SQLITE ? "pragma query_only = 1" : "set transaction read only";
        assertThatThrownBy(() -> store.transaction(tx -> {
                    tx.sql(readOnly).execute();
                    return tx.sql("update boat set name = 'x'").execute();
                }))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("the database takes no writes here");
        assertThat(store.<Long, RuntimeException>call(work ->
                        work.from(Boat.class).where(the(Boat::name).is("x")).count()))
                .isZero();
    }
}
