package io.bathra.contract;

import static io.bathra.model.Declare.assigned;
import static org.assertj.core.api.Assertions.assertThat;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Five hundred who want the same five rows, with fewer connections than there are of them. */
@OnEachDatabase
class HerdTest {
    private static final int HERD = 500;
    private static final int ROWS = 5;
    private static final int CONNECTIONS = 20;

    static final class Trough {
        private int number;
        private int revision;
        private int drinks;

        Trough() {}

        Trough(int number) {
            this.number = number;
        }

        int number() {
            return number;
        }

        int revision() {
            return revision;
        }

        int drinks() {
            return drinks;
        }
    }

    private static final Model MODEL = Model.of(
                    "herd",
                    Entity.of(Trough.class, Trough::new)
                            .key(Trough::number, assigned())
                            .version(Trough::revision))
            .commitTokens("herd_token");

    private final TestDatabase database;

    HerdTest(TestDatabase database) {
        this.database = database;
    }

    @Test
    void noneIsLostWithinTheTimeThatIsSet() throws InterruptedException {
        HikariConfig config = new HikariConfig();
        config.setJdbcUrl(database.sharedUrl());
        config.setMaximumPoolSize(CONNECTIONS);
        config.setConnectionTimeout(60_000);
        try (HikariDataSource pool = new HikariDataSource(config)) {
            Store store = Trips.open(MODEL, pool);
            store.schema().createMissing();
            store.run(work -> IntStream.range(0, ROWS).mapToObj(Trough::new).forEach(work::add));
            Terms terms = Terms.retrying(10_000).upTo(Duration.ofSeconds(60));
            ConcurrentLinkedQueue<Throwable> failures = new ConcurrentLinkedQueue<>();
            List<Thread> herd = new ArrayList<>();
            for (int i = 0; i < HERD; i++) {
                int number = i % ROWS;
                Thread one = new Thread(() -> store.run(terms, work -> work.require(Trough.class, number).drinks++));
                one.setUncaughtExceptionHandler((thread, failure) -> failures.add(failure));
                herd.add(one);
            }
            herd.forEach(Thread::start);
            for (Thread one : herd) {
                one.join();
            }
            assertThat(failures).isEmpty();
            List<Integer> drinks = store.call(work ->
                    work.from(Trough.class).list().stream().map(Trough::drinks).toList());
            assertThat(drinks).containsOnly(HERD / ROWS).hasSize(ROWS);
        }
    }
}
