package io.bathra.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.FlushReport;
import io.bathra.Isolation;
import io.bathra.Position;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.fleet.Docks.Berth;
import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Queue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.condition.EnabledIfEnvironmentVariable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A primary and a standby that follows it, of PostgreSQL and of MariaDB. */
@EnabledIfEnvironmentVariable(named = "FLEET", matches = ".+")
class StandbyTest {
    private static final int READS = 2_000;

    private final List<AutoCloseable> open = new ArrayList<>();
    private List<String> servers;
    private Store store;

    private void begin(String product) {
        Fleet.tell(product, "again");
        servers = Fleet.urls(product, product.equals("postgres") ? "postgres" : "test");
        store = Store.open(Docks.MODEL, pool(servers.get(0), 12)).readingFrom(pool(servers.get(1), 12));
        FlushReport filled;
        store.schema().createMissing();
        try (UnitOfWork work = store.begin()) {
            for (int number = 0; number < Docks.BERTHS; number++) {
                work.add(new Berth(number));
            }
            filled = work.commit();
        }
        Position position = filled.position().orElseThrow();
        assertThat(Position.parse(position.toString())).isEqualTo(position);
        store.run(
                Terms.reading().notBefore(position, Duration.ofSeconds(20)),
                work -> assertThat(work.from(Berth.class).count()).isEqualTo(Docks.BERTHS));
    }

    private HikariDataSource pool(String url, int connections) {
        HikariDataSource pool = Fleet.pool(url, connections);
        open.add(pool);
        return pool;
    }

    @AfterEach
    void close() throws Exception {
        for (AutoCloseable one : open) {
            one.close();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgres", "mariadb"})
    void whatWasWrittenIsReadOnTheStandbyByAnotherProcess(String product) throws Exception {
        begin(product);
        Process reader = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-cp",
                        System.getProperty("java.class.path"),
                        ReaderProcess.class.getName(),
                        servers.get(0),
                        servers.get(1))
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        int stale = 0;
        int unasked = 0;
        int onPrimary = 0;
        List<Integer> micros = new ArrayList<>();
        try (PrintWriter asking = new PrintWriter(reader.getOutputStream(), true, StandardCharsets.UTF_8);
                BufferedReader answers =
                        new BufferedReader(new InputStreamReader(reader.getInputStream(), StandardCharsets.UTF_8))) {
            for (int number = 0; number < 2 * READS; number++) {
                int own = number;
                FlushReport report = store.call(Fleet.RETRYING, work -> {
                    Docks.enter(work, "writer", own);
                    return work.commit();
                });
                boolean waits = number % 2 == 0;
                asking.println(waits ? number + " " + report.position().orElseThrow() : "" + number);
                String[] answer = answers.readLine().split(" ");
                boolean seen = Boolean.parseBoolean(answer[0]);
                if (waits) {
                    stale += seen ? 0 : 1;
                    onPrimary += answer[2].equals("primary") ? 1 : 0;
                    micros.add(Integer.parseInt(answer[1]));
                } else {
                    unasked += seen ? 0 : 1;
                }
            }
        }
        assertThat(reader.waitFor()).isZero();
        Collections.sort(micros);
        Fleet.say(
                "%s standby, %,d reads right after a commit, in another process: %d stale, %d of them on the primary, half in less"
                        + " than %.1f ms, 99 of 100 in %.1f ms, all in %.1f ms; of %,d that did not say notBefore(...), %d were stale",
                product,
                READS,
                stale,
                onPrimary,
                micros.get(READS / 2) / 1e3,
                micros.get(READS * 99 / 100) / 1e3,
                micros.get(READS - 1) / 1e3,
                READS,
                unasked);
        assertThat(stale).isZero();
    }

    /** Readers while something happens to a server. */
    private final class Readers {
        private final AtomicBoolean working = new AtomicBoolean(true);
        private final AtomicInteger reads = new AtomicInteger();
        private final Map<String, AtomicInteger> where = new ConcurrentHashMap<>();
        private final Queue<Throwable> failures = new ConcurrentLinkedQueue<>();
        private final List<Thread> threads = new ArrayList<>();

        Readers(Terms terms) {
            for (int i = 0; i < 6; i++) {
                Thread thread = new Thread(() -> {
                    while (working.get()) {
                        store.run(terms, work -> {
                            assertThat(work.from(Berth.class).list()).hasSize(Docks.BERTHS);
                            boolean primary = work.trace().toString().contains("on the primary");
                            where.computeIfAbsent(primary ? "primary" : "standby", any -> new AtomicInteger())
                                    .incrementAndGet();
                        });
                        reads.incrementAndGet();
                    }
                });
                thread.setUncaughtExceptionHandler((any, failure) -> failures.add(failure));
                threads.add(thread);
            }
            threads.forEach(Thread::start);
        }

        int reads() {
            return reads.get();
        }

        int on(String server) {
            return where.getOrDefault(server, new AtomicInteger()).get();
        }

        void end() throws InterruptedException {
            working.set(false);
            for (Thread thread : threads) {
                thread.join();
            }
            assertThat(failures).isEmpty();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgres", "mariadb"})
    void aStandbyThatGoesAndComesBackCostsNobodyAnything(String product) throws Exception {
        begin(product);
        if (product.equals("postgres")) { // its commits would wait for the standby
            Fleet.execute(servers.get(0), "alter system set synchronous_standby_names = ''", "select pg_reload_conf()");
        }
        Readers readers = new Readers(Fleet.RETRYING.readOnly());
        Clerks clerks = Clerks.begin("standby clerk ", 3, List.of(store), Fleet.RETRYING);
        Fleet.sleep(2_000);
        Fleet.tell(product, "kill", "2");
        int early = readers.on("primary");
        Fleet.until("for reads on the primary while the standby is away", () -> readers.on("primary") > early);
        Fleet.sleep(2_000);
        int before = readers.on("standby");
        Fleet.tell(product, "node", "2");
        Fleet.until("for reads on the standby that came back", () -> readers.on("standby") > before);
        Fleet.sleep(2_000);
        readers.end();
        clerks.end().haveAllSucceeded();
        Fleet.say(
                "%s standby killed under load and started again: %,d reads, %,d of them on the primary meanwhile, no failure; %s",
                product, readers.reads(), readers.on("primary"), clerks);
        Docks.holds(store, clerks.acknowledged());
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgres", "mariadb"})
    void readersGoOnWithoutThePrimary(String product) throws Exception {
        begin(product);
        Readers readers = new Readers(Terms.reading());
        Fleet.sleep(1_500);
        Fleet.tell(product, "kill", "1");
        Fleet.sleep(500);
        int before = readers.reads();
        Fleet.sleep(2_000);
        Fleet.say("%s primary gone: %,d reads in two seconds, no failure", product, readers.reads() - before);
        Fleet.until("for a read without the primary", () -> readers.reads() > before);
        readers.end();
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgres", "mariadb"})
    void whatNoStandbyCanDoIsDoneOnThePrimary(String product) {
        begin(product);
        List<Terms> onPrimary = List.of(
                Terms.reading().isolation(Isolation.SERIALIZABLE),
                Terms.reading().upToDate());
        String who = product.equals("postgres") ? "select inet_server_port()" : "select @@port";
        String primary = Fleet.address(servers.get(0)).split(":")[1];
        String standby = Fleet.address(servers.get(1)).split(":")[1];
        for (Terms terms : onPrimary) {
            assertThat(store.<String, RuntimeException>call(
                            terms, work -> work.sql(who).as(String.class).one()))
                    .isEqualTo(primary);
        }
        assertThat(store.<String, RuntimeException>call(
                        Terms.reading(), work -> work.sql(who).as(String.class).one()))
                .isEqualTo(standby);
        String plain = store.transaction(
                Terms.reading(), tx -> tx.sql(who).as(String.class).one());
        assertThat(plain).isEqualTo(standby);
        assertThat(store.sql(who).as(String.class).one()).isEqualTo(primary);
        store.run(work -> {
            work.from(Berth.class).forUpdate().list();
            assertThat(work.sql(who).as(String.class).one()).isEqualTo(primary);
        });
        assertThatThrownBy(() -> store.run(Terms.reading(), work -> {
                    work.from(Berth.class).list();
                    work.from(Berth.class).forUpdate().list();
                }))
                .hasMessageContaining("holds rows for an update, but this unit of work is read-only");
        Position never = Position.parse(product.equals("postgres") ? "wal-FFFFFF/0" : "gtid-0-1-999999999");
        store.run(Terms.reading().notBefore(never, Duration.ofMillis(100)), work -> {
            assertThat(work.sql(who).as(String.class).one()).isEqualTo(primary);
            assertThat(work.trace().toString())
                    .contains("on the primary: standby 1 was not at " + never + " after 100 ms");
        });
        Position others = Position.parse(product.equals("postgres") ? "gtid-0-1-9" : "wal-0/1");
        assertThatThrownBy(() -> store.run(
                        Terms.reading().notBefore(others),
                        work -> work.from(Berth.class).list()))
                .hasMessageContaining("is none of");
    }
}
