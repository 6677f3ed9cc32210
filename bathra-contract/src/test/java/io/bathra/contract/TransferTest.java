package io.bathra.contract;

import static io.bathra.Terms.reading;
import static io.bathra.Terms.retrying;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Isolation;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.LockTimeout;
import io.bathra.error.StatementTimeout;
import io.bathra.junit.Faults;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Sql;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * Money that goes from one account to another, by many threads at once: none is lost, and nobody sees it on its way.
 */
@OnEachDatabase
class TransferTest {
    static final class Account {
        Long id;
        int balance = 1_000;
        int revision;

        int revision() {
            return revision;
        }
    }

    private static final int ACCOUNTS = 6;
    private static final int THREADS = 10;
    private static final int TRANSFERS = 12;
    private static final Sql<Integer> SUM =
            Sql.of("select sum(balance) from account").as(Integer.class);

    private final TestDatabase database;
    private final DataSource plain;
    private final Faults faults;
    private final Store store;
    private Keys keys;

    TransferTest(TestDatabase database) {
        this.database = database;
        plain = database.empty();
        faults = Faults.in(plain);
        store = Trips.open(
                Model.of("bank", Entity.of(Account.class, Account::new).version(Account::revision)), faults.source());
    }

    @BeforeEach
    void openAccounts() {
        store.schema().createMissing();
        store.run(work -> {
            for (int i = 0; i < ACCOUNTS; i++) {
                work.add(new Account());
            }
        });
        keys = Keys.in(store, "account");
    }

    @AfterEach
    void everyConnectionIsGivenBack() {
        assertThat(faults.open()).isZero();
    }

    /** Each account is flushed by itself, in any order, so that threads do meet in rings. */
    private void transfer(UnitOfWork work, Random random) {
        Account from = work.require(Account.class, keys.of("account", 1 + random.nextInt(ACCOUNTS)));
        Account to = work.require(Account.class, keys.of("account", 1 + random.nextInt(ACCOUNTS)));
        int amount = 1 + random.nextInt(50);
        from.balance -= amount;
        work.flush();
        to.balance += amount;
        work.flush();
    }

    private void transferByAll(Terms terms, ExecutorService executor) {
        AtomicBoolean done = new AtomicBoolean();
        AtomicInteger looks = new AtomicInteger();
        Runnable look = () -> {
            while (!done.get()) {
                assertThat(store.sql(SUM).one()).isEqualTo(ACCOUNTS * 1_000);
                int seen = store.call(
                        reading(),
                        work -> work.from(Account.class).list().stream()
                                .mapToInt(account -> account.balance)
                                .sum());
                assertThat(seen).isEqualTo(ACCOUNTS * 1_000);
                looks.incrementAndGet();
            }
        };
        try {
            CompletableFuture<Void> reader = CompletableFuture.runAsync(look, executor);
            List<CompletableFuture<Void>> threads = new ArrayList<>();
            for (int thread = 0; thread < THREADS; thread++) {
                Random random = new Random(thread);
                threads.add(CompletableFuture.runAsync(
                        () -> {
                            for (int i = 0; i < TRANSFERS; i++) {
                                store.run(terms, work -> transfer(work, random));
                            }
                        },
                        executor));
            }
            threads.forEach(CompletableFuture::join);
            done.set(true);
            reader.join();
        } finally {
            done.set(true);
            executor.shutdown();
        }
        assertThat(looks).hasPositiveValue();
        assertThat(store.sql(SUM).one()).isEqualTo(ACCOUNTS * 1_000);
        // a transfer to the same account writes it once, when what it takes has been flushed, and once more
        assertThat(store.sql("select sum(revision) from account")
                        .as(Integer.class)
                        .one())
                .isEqualTo(2 * THREADS * TRANSFERS);
    }

    @Test
    void theSumStays() {
        transferByAll(retrying(300), Executors.newCachedThreadPool());
    }

    @Test
    void theSumStaysWhenAllIsSerializable() {
        transferByAll(retrying(300).isolation(Isolation.SERIALIZABLE), Executors.newCachedThreadPool());
    }

    /** On a Java that has virtual threads, and otherwise on plain ones. */
    @Test
    void theSumStaysOnVirtualThreads() throws ReflectiveOperationException {
        boolean virtual = Runtime.version().feature() >= 21;
        transferByAll(
                retrying(300),
                virtual
                        ? (ExecutorService) Executors.class
                                .getMethod("newVirtualThreadPerTaskExecutor")
                                .invoke(null)
                        : Executors.newCachedThreadPool());
    }

    /** Two units that take two accounts in opposite order, at the same time, again and again. */
    @Test
    void aDeadlockIsTriedAgain() {
        AtomicInteger attempts = new AtomicInteger();
        List<CompletableFuture<Void>> both = new ArrayList<>();
        for (List<Long> order : List.of(List.of(1L, 2L), List.of(2L, 1L))) {
            both.add(CompletableFuture.runAsync(() -> {
                for (int i = 0; i < 5; i++) {
                    store.run(retrying(100), work -> {
                        attempts.incrementAndGet();
                        for (long id : order) {
                            work.sql("update account set balance = balance + 1 where id = :id")
                                    .with("id", keys.of("account", id))
                                    .execute();
                            sleep(30);
                        }
                    });
                }
            }));
        }
        both.forEach(CompletableFuture::join);
        assertThat(store.sql(SUM).one()).isEqualTo(ACCOUNTS * 1_000 + 20);
        if (database != TestDatabase.SQLITE) { // whose writers queue
            assertThat(attempts.get()).as("some have met").isGreaterThan(10);
        }
    }

    private static void sleep(long millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Test
    void waitingHasItsLimit() {
        Terms impatient = Terms.retrying(1).lockTimeout(Duration.ofMillis(50));
        try (UnitOfWork holder = store.begin()) {
            holder.require(Account.class, keys.of("account", 1)).balance = 1;
            holder.flush();
            assertThatThrownBy(() -> store.run(impatient, work -> {
                        work.require(Account.class, keys.of("account", 1)).balance = 2;
                    }))
                    .isInstanceOf(LockTimeout.class);
        }
        store.run(impatient, work -> work.require(Account.class, keys.of("account", 1)).balance = 3);
        assertThatThrownBy(() -> Terms.reading().lockTimeout(Duration.ZERO))
                .isInstanceOf(IllegalArgumentException.class);
    }

    /** A query that takes as long as anybody lets it. */
    static String endless(TestDatabase database) {
        return switch (database) {
            case H2 -> "select sum(a.x * b.x) from system_range(1, 1000000) a, system_range(1, 1000000) b";
            case POSTGRESQL -> "select sum(a) from generate_series(1, 1000000000000) a";
            case MARIADB -> "select sum(a.seq * b.seq) from seq_1_to_1000000 a, seq_1_to_1000000 b";
            case SQLITE -> "with recursive a(x) as (select 1 union all select x + 1 from a) select sum(x) from a";
        };
    }

    @Test
    void aStatementHasItsLimit() {
        String endless = endless(database);
        Terms limited = Terms.reading().statementTimeout(Duration.ofMillis(200));
        try (UnitOfWork work = store.begin(limited)) {
            assertThatThrownBy(() -> work.sql(endless).as(Long.class).one())
                    .isInstanceOf(StatementTimeout.class)
                    .hasMessageContaining("took longer than it may")
                    .extracting(e -> ((BathraException) e).isRetryable())
                    .isEqualTo(false);
        }
        assertThat(store.sql(SUM).one()).isEqualTo(ACCOUNTS * 1_000);
        assertThatThrownBy(() -> store.transaction(limited, tx -> {
                    tx.sql(SUM).one();
                    return tx.sql(endless).as(Long.class).one();
                }))
                .isInstanceOf(StatementTimeout.class);
    }
}
