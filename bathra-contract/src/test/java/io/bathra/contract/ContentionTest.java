package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.Deadlock;
import io.bathra.error.LockTimeout;
import io.bathra.error.SerializationFailure;
import io.bathra.error.UnitStateException;
import io.bathra.testing.FaultySource;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.sql.Connection;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.CyclicBarrier;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** Several units of work at the same rows, or several threads at the same unit. */
@OnEachDatabase
class ContentionTest extends BoatContract {
    private final FaultySource source = new FaultySource(plain);
    private final Store own;

    ContentionTest(TestDatabase database) {
        super(database);
        own = Trips.open(store.model(), source.wrapped());
    }

    @Test
    void twoThreadsAtOnceAndAClosedUnitAreRefused() throws InterruptedException {
        UnitOfWork work = own.begin();
        CountDownLatch inside = new CountDownLatch(1);
        CountDownLatch tried = new CountDownLatch(1);
        source.inject((connection, method, argument) -> {
            if (method.equals("prepareStatement")) {
                inside.countDown();
                await(tried);
            }
        });
        CompletableFuture<Boat> first = CompletableFuture.supplyAsync(() -> boat(work, 1));
        assertThat(inside.await(10, TimeUnit.SECONDS)).isTrue();
        assertThatThrownBy(() -> boat(work, 2))
                .isInstanceOf(UnitStateException.class)
                .hasMessageContaining("is used by two threads at once");
        tried.countDown();
        first.join();
        source.mend();
        work.close();
        assertThatThrownBy(work::tracked).isInstanceOf(UnitStateException.class).hasMessageContaining("is closed");
    }

    private static void await(CountDownLatch latch) {
        try {
            latch.await(10, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Two units that change two rows in opposite order; SQLite has one writer at a time, who waits for the other. */
    @Test
    void aDeadlockIsToldAndCanBeTriedAgain() {
        CyclicBarrier barrier = new CyclicBarrier(2);
        List<CompletableFuture<Void>> both = List.of(changeInOrder(1, 2, barrier), changeInOrder(2, 1, barrier));
        List<Throwable> failures = new ArrayList<>();
        for (CompletableFuture<Void> one : both) {
            try {
                one.join();
            } catch (CompletionException e) {
                failures.add(e.getCause());
            }
        }
        assertThat(failures).singleElement().isInstanceOfSatisfying(BathraException.class, e -> {
            assertThat(e.isRetryable()).isTrue();
            assertThat(e).isInstanceOf(database == TestDatabase.SQLITE ? LockTimeout.class : Deadlock.class);
        });
    }

    private CompletableFuture<Void> changeInOrder(long first, long second, CyclicBarrier barrier) {
        return CompletableFuture.runAsync(() -> {
            try (UnitOfWork work = own.begin()) {
                boat(work, first).seats = 1;
                work.flush();
                barrier.await(20, TimeUnit.SECONDS);
                boat(work, second).seats = 2;
                work.flush();
                work.rollback();
                work.discard();
            } catch (BathraException e) {
                barrier.reset();
                throw e;
            } catch (Exception e) {
                if (database != TestDatabase.SQLITE) {
                    throw new IllegalStateException(e);
                }
            }
        });
    }

    /** Each connection that is taken from now on is set up first. */
    private void setUp(String h2, String sqlite, String postgres, String mariaDb, int isolation) {
        assumeThat(database.isPooled())
                .as("a session behind a pooler is nobody's own")
                .isFalse();
        String sql = switch (database) {
            case H2 -> h2;
            case SQLITE -> sqlite;
            case POSTGRESQL -> postgres;
            case MARIADB -> mariaDb;
        };
        Set<Connection> ready = Collections.synchronizedSet(Collections.newSetFromMap(new IdentityHashMap<>()));
        source.inject((connection, method, argument) -> {
            if (ready.add(connection)) {
                if (isolation != 0) {
                    connection.setTransactionIsolation(isolation);
                }
                try (Statement statement = connection.createStatement()) {
                    statement.execute(sql);
                }
            }
        });
    }

    @Test
    void whoWaitsTooLongForALockIsToldAndCanTryAgain() {
        setUp(
                "set lock_timeout 200",
                "pragma busy_timeout = 200",
                "set lock_timeout = 200",
                "set innodb_lock_wait_timeout = 1",
                0);
        try (UnitOfWork first = own.begin();
                UnitOfWork second = own.begin()) {
            Boat waiting = database == TestDatabase.SQLITE ? null : boat(second, 1);
            boat(first, 1).seats = 1;
            first.flush();
            if (waiting == null) {
                assertThatThrownBy(() -> boat(second, 1)).isInstanceOf(LockTimeout.class);
                first.rollback();
                waiting = boat(second, 1);
            }
            waiting.seats = 2;
            if (database != TestDatabase.SQLITE) {
                assertThatThrownBy(second::flush).isInstanceOfSatisfying(LockTimeout.class, e -> {
                    assertThat(e.isRetryable()).isTrue();
                    assertThat(e.isTransactionGone()).isFalse();
                });
                assertThat(second.standing(waiting)).isEqualTo(Standing.DIRTY);
                first.rollback();
            }
            first.discard();
            second.commit();
            assertThat(waiting.revision()).isEqualTo(1);
        }
        source.mend();
    }

    @Test
    void whoWritesWhatOthersHaveWrittenSinceTheSnapshotIsTold() {
        if (database == TestDatabase.SQLITE) {
            return; // it has one writer, who reads what the last one has written
        }
        setUp(
                "set lock_timeout 2000",
                "",
                "set lock_timeout = 2000",
                "set innodb_snapshot_isolation = on",
                Connection.TRANSACTION_REPEATABLE_READ);
        try (UnitOfWork late = own.begin()) {
            boat(late, 1).seats = 2;
            own.run(other -> boat(other, 1).seats = 1);
            assertThatThrownBy(late::flush).isInstanceOfSatisfying(BathraException.class, e -> {
                assertThat(e.isRetryable()).isTrue();
                assertThat(e).isInstanceOf(database == TestDatabase.H2 ? Deadlock.class : SerializationFailure.class);
            });
            assertThatThrownBy(late::flush).hasMessageContaining("is broken");
        }
        source.mend();
    }
}
