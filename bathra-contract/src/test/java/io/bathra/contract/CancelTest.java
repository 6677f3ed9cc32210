package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.StatementCancelled;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Another thread stops the statement that a unit waits for. */
@OnEachDatabase
@Timeout(60)
class CancelTest {
    static final class Buoy {
        private Long id;
        private int colour;
    }

    private static final Model MODEL = Model.of("buoys", Entity.of(Buoy.class, Buoy::new));

    private final TestDatabase database;
    private final Store store;

    CancelTest(TestDatabase database) {
        this.database = database;
        store = Trips.open(MODEL, database.empty());
        store.schema().createMissing();
    }

    /** Takes minutes, unless it is stopped. */
    private String endless() {
        String rows = "with recursive n(i) as (select 1 union all select i + 1 from n where i < ";
        return switch (database) {
            case POSTGRESQL -> "select pg_sleep(120)";
            case MARIADB -> "select sleep(120)";
            case H2, SQLITE -> rows + "2000000000) select count(*) from n";
        };
    }

    /** Stops a unit as soon as it waits for something. */
    private static Thread stopping(UnitOfWork work) {
        Thread thread = new Thread(() -> {
            try {
                do {
                    Thread.sleep(300);
                } while (!work.cancel());
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        });
        thread.start();
        return thread;
    }

    @Test
    void aStatementIsStopped() throws InterruptedException {
        try (UnitOfWork work = store.begin()) {
            assertThat(work.cancel()).as("nothing runs").isFalse();
            work.add(new Buoy());
            work.flush();
            Thread other = stopping(work);
            assertThatThrownBy(() -> work.sql(endless()).list())
                    .isInstanceOfSatisfying(
                            StatementCancelled.class,
                            e -> assertThat(e.isTransactionGone()).isEqualTo(database == TestDatabase.SQLITE))
                    .hasMessageContaining("was cancelled by another thread")
                    .hasMessageContaining(endless());
            other.join();
            if (database == TestDatabase.SQLITE) {
                assertThatThrownBy(work::flush).isInstanceOf(UnitStateException.class);
            } else {
                work.rollback();
                work.add(new Buoy());
                work.commit();
            }
        }
        store.run(work -> assertThat(work.from(Buoy.class).count()).isEqualTo(database == TestDatabase.SQLITE ? 0 : 2));
    }

    @Test
    void aStreamIsStopped() throws InterruptedException {
        try (UnitOfWork work = store.begin()) {
            Thread other = stopping(work);
            assertThatThrownBy(() -> {
                        try (Stream<Map<String, @Nullable Object>> rows = work.sql(endless()).stream()) {
                            assertThat(rows.count()).isZero();
                        }
                    })
                    .isInstanceOf(StatementCancelled.class);
            other.join();
        }
    }

    @Test
    void anOrdinaryFailureIsNoCancellation() {
        store.run(work -> {
            assertThat(work.cancel()).isFalse();
            assertThatThrownBy(() -> work.sql("select nothing from nowhere").list())
                    .isInstanceOf(StatementException.class)
                    .isNotInstanceOf(StatementCancelled.class);
            work.rollback();
        });
    }
}
