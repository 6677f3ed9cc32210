package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Isolation;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.contract.TripTest.Crate;
import io.bathra.contract.TripTest.Shed;
import io.bathra.jdbc.UrlDataSource;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfEnvironmentVariable;
import org.junit.jupiter.api.io.TempDir;

/**
 * A pooler that gives each transaction to any of few sessions: what one has said must not hold for the next. The
 * environment tells where its program is.
 */
@EnabledIfEnvironmentVariable(named = "BATHRA_TEST_POOLER", matches = ".+")
class PoolerTest {
    private static final int SESSIONS = 3;
    private static final int THREADS = 8;
    private static final int UNITS = 50;

    @TempDir
    Path folder;

    private Process pooler;
    private String url;
    private Store store;

    @BeforeEach
    void start() throws Exception {
        String server = TestDatabase.POSTGRESQL.sharedUrl();
        URI address = URI.create(server.substring("jdbc:".length()));
        String database = "pooled_" + System.nanoTime();
        TestDatabase.execute(new UrlDataSource(server, null, null), "create database " + database);
        int port = freePort();
        Path settings = Files.writeString(folder.resolve("pooler.ini"), """
                [databases]
                %s = host=%s port=%d user=postgres
                [pgbouncer]
                listen_addr = 127.0.0.1
                listen_port = %d
                unix_socket_dir =
                auth_type = any
                pool_mode = transaction
                default_pool_size = %d
                ignore_startup_parameters = extra_float_digits
                """.formatted(
                        database, address.getHost(), address.getPort(), port, SESSIONS));
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
        List<String> command = new ArrayList<>(List.of(System.getenv("BATHRA_TEST_POOLER")));
        if (System.getProperty("user.name").equals("root")) {
            command.addAll(List.of("-u", "nobody"));
        }
        command.add(settings.toString());
        pooler = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("pooler.log").toFile())
                .start();
        awaitPort(port);
        url = "jdbc:postgresql://127.0.0.1:" + port + "/" + database;
        store = Store.open(TripTest.MODEL, url, "clerk", null).throughPooler();
        store.schema().createMissing();
        store.run(work -> IntStream.range(0, 30).mapToObj(Shed::new).forEach(work::add));
    }

    @AfterEach
    void stop() throws InterruptedException {
        store.close();
        pooler.destroy();
        assertThat(pooler.waitFor(10, TimeUnit.SECONDS)).isTrue();
    }

    private static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    private void awaitPort(int port) throws Exception {
        for (int i = 0; i < 100; i++) {
            try {
                new Socket("127.0.0.1", port).close();
                return;
            } catch (IOException notYet) {
                assertThat(pooler.isAlive())
                        .as(() -> "the pooler says: " + log())
                        .isTrue();
                Thread.sleep(100);
            }
        }
        throw new IllegalStateException("the pooler does not answer: " + log());
    }

    private String log() {
        try {
            return Files.readString(folder.resolve("pooler.log"));
        } catch (IOException e) {
            return e.toString();
        }
    }

    @Test
    void aLargeFlushIsWhole() {
        store.run(work -> work.add(new Crate(work.require(Shed.class, 0), "first")));
        store.run(TripTest::changeAll);
        TripTest.isAllChanged(store);
    }

    /** With the driver's defaults, commits would be acknowledged and lost. */
    @Test
    void aStoreThatWasNotToldOfThePoolerDoesNothing() {
        try (Store untold = Store.open(TripTest.MODEL, url, "clerk", null)) {
            assertThatThrownBy(() -> untold.run(work -> work.add(new Shed(77))))
                    .hasMessageContaining("a pooler stands before the server")
                    .hasMessageContaining("store.throughPooler(), or prepareThreshold=0 in the URL");
            assertThatThrownBy(() -> untold.sql("select 1").as(Integer.class).one())
                    .hasMessageContaining("a pooler");
        }
        try (Store byUrl = Store.open(TripTest.MODEL, url + "?prepareThreshold=0", "clerk", null)) {
            byUrl.run(work -> work.add(new Shed(78)));
        }
        store.run(work -> {
            assertThat(work.find(Shed.class, 77)).isEmpty();
            assertThat(work.find(Shed.class, 78)).isPresent();
        });
    }

    @Test
    void noUnitIsLostAndNothingOfOneHoldsForAnother() {
        List<Terms> terms = List.of(
                Terms.retrying(50),
                Terms.retrying(50).isolation(Isolation.SERIALIZABLE),
                Terms.retrying(50).lockTimeout(Duration.ofSeconds(20)).statementTimeout(Duration.ofSeconds(30)),
                Terms.retrying(50).isolation(Isolation.REPEATABLE_READ));
        List<CompletableFuture<Void>> clerks = new ArrayList<>();
        for (int t = 0; t < THREADS; t++) {
            int clerk = t;
            clerks.add(CompletableFuture.runAsync(() -> {
                for (int i = 0; i < UNITS; i++) {
                    int number = 1_000 * (clerk + 1) + i;
                    store.run(terms.get(i % terms.size()), work -> {
                        work.require(Shed.class, number % 7).places++;
                        Shed fresh = new Shed(number);
                        fresh.remarks.add("of " + clerk);
                        fresh.crates.add(new Crate(fresh, "c"));
                        work.add(fresh);
                    });
                    store.run(
                            Terms.reading(),
                            work -> assertThat(work.require(Shed.class, number).remarks)
                                    .containsExactly("of " + clerk));
                }
            }));
        }
        clerks.forEach(CompletableFuture::join);
        store.run(work -> {
            List<Shed> all = work.from(Shed.class).alongWith(Shed::crates).list();
            assertThat(all).hasSize(30 + THREADS * UNITS);
            assertThat(all.stream().mapToInt(shed -> shed.places).sum()).isEqualTo(THREADS * UNITS);
            assertThat(all.stream().mapToInt(shed -> shed.crates.size()).sum()).isEqualTo(THREADS * UNITS);
        });
        for (String setting : List.of(
                "default_transaction_isolation",
                "lock_timeout",
                "statement_timeout",
                "default_transaction_read_only")) {
            List<String> seen = IntStream.range(0, 4 * SESSIONS)
                    .mapToObj(i -> store.sql("show " + setting).as(String.class).one())
                    .distinct()
                    .toList();
            assertThat(seen).as(setting).hasSize(1).containsAnyOf("read committed", "0", "off");
        }
    }
}
