package io.bathra.fleet;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Isolation;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.fleet.CuttingProxy.Cut;
import io.bathra.fleet.Docks.Berth;
import io.bathra.model.Model;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CountDownLatch;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.condition.EnabledIfEnvironmentVariable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The table of faults in the guide is what was seen. */
@EnabledIfEnvironmentVariable(named = "FLEET", matches = ".+")
class FaultsSeenTest {
    private static final Path PAGE = Path.of("..", "docs", "guide", "operations.md");
    private static final Terms PATIENT = Terms.retrying(2);

    private final List<AutoCloseable> open = new ArrayList<>();
    private final Map<String, String> seen = new LinkedHashMap<>();
    private String url;
    private Store store;

    private void begin(String product) {
        String server = product.equals("PostgreSQL")
                ? Fleet.tell("pooler", "server")
                : Fleet.urls("galera", "test").get(0);
        Fleet.execute(server, "drop database if exists faults", "create database faults");
        url = server.replaceFirst("/[^/?]*\\?", "/faults?");
        store = Store.open(Docks.MODEL, pool(url, 4));
        Docks.fill(store);
    }

    private HikariDataSource pool(String source, int connections) {
        HikariDataSource pool = Fleet.pool(source, connections);
        open.add(pool);
        return pool;
    }

    /** A pool of one connection that soon says that there is none. */
    private HikariDataSource impatientPool(String source) {
        HikariDataSource pool = Fleet.pool(source, 1, 4_000);
        open.add(pool);
        return pool;
    }

    @AfterEach
    void close() throws Exception {
        for (AutoCloseable one : open) {
            one.close();
        }
    }

    /** Does what fails, and notes how. */
    private void see(String fault, ThrowingCallable work) {
        Throwable thrown = catchThrowable(work);
        if (thrown instanceof CompletionException) {
            thrown = thrown.getCause();
        }
        seen.put(
                fault,
                thrown == null
                        ? "none | "
                        : "`" + thrown.getClass().getSimpleName() + "` | "
                                + (thrown instanceof BathraException own && own.isRetryable() ? "yes" : "no"));
        if (thrown != null && !(thrown instanceof BathraException)) {
            throw new IllegalStateException(fault, thrown);
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"PostgreSQL", "MariaDB"})
    void thePageSaysWhatIsSeen(String product) throws Exception {
        boolean postgres = product.equals("PostgreSQL");
        begin(product);
        connections(postgres);
        sessions(postgres);
        commits();
        locks(postgres);
        refusals(postgres);
        Map<String, String> told = new LinkedHashMap<>();
        String page = Files.readString(PAGE);
        page.substring(page.indexOf("| What has happened |"), page.indexOf("A unit that has failed is over"))
                .lines()
                .skip(2)
                .map(line -> line.split(" *\\| *"))
                .filter(cells -> cells.length > 1)
                .filter(cells -> !cells[1].contains("(") || cells[1].contains("(" + product + ")"))
                .forEach(cells -> told.put(cells[1], cells[2] + " | " + (cells[3].equals("–") ? "" : cells[3])));
        Fleet.say("%s, %d faults, each seen as the guide says", product, seen.size());
        assertThat(told).containsExactlyInAnyOrderEntriesOf(seen);
    }

    private void connections(boolean postgres) {
        String nowhere = url.replace(Fleet.address(url), "127.0.0.1:1");
        see(
                "the server is away",
                () -> Store.open(Docks.MODEL, impatientPool(nowhere)).run(work -> work.require(Berth.class, 1)));
        Fleet.execute(
                url,
                postgres
                        ? "do $$ begin create role narrow login connection limit 1; exception when others then end $$"
                        : "create or replace user narrow@'127.0.0.1' with max_user_connections 1",
                postgres
                        ? "grant all on all tables in schema public to narrow"
                        : "grant all on *.* to narrow@'127.0.0.1'");
        String narrow = url.replaceFirst("user=\\w+", "user=narrow");
        see("the server takes no more connections", () -> {
            Store first = Store.open(Docks.MODEL, pool(narrow, 1));
            try (UnitOfWork held = first.begin()) {
                held.from(Berth.class).forUpdate().list();
                Store.open(Docks.MODEL, impatientPool(narrow)).run(work -> work.require(Berth.class, 1));
            }
        });
        see("the pool has no connection to give", () -> {
            Store single = Store.open(Docks.MODEL, impatientPool(url));
            try (UnitOfWork held = single.begin()) {
                held.from(Berth.class).forUpdate().list();
                single.run(work -> work.require(Berth.class, 1));
            }
        });
    }

    private void sessions(boolean postgres) {
        see(
                "the server ends the session",
                () -> store.run(work -> {
                    work.from(Berth.class).forUpdate().list();
                    String who = work.sql("select " + (postgres ? "pg_backend_pid()" : "connection_id()"))
                            .as(String.class)
                            .one();
                    Fleet.execute(
                            url, postgres ? "select pg_terminate_backend(" + who + ")" : "kill connection " + who);
                    Fleet.sleep(200);
                    work.from(Berth.class).forUpdate().list();
                }));
        see(
                "the server ends the session, since its transaction stands idle",
                () -> store.run(work -> {
                    work.from(Berth.class).forUpdate().list();
                    work.sql(
                                    postgres
                                            ? "set idle_in_transaction_session_timeout = 100"
                                            : "set session idle_transaction_timeout = 1")
                            .execute();
                    Fleet.sleep(2_500);
                    work.from(Berth.class).forUpdate().list();
                }));
    }

    private void commits() throws IOException {
        try (CuttingProxy proxy = new CuttingProxy(List.of(Fleet.address(url)))) {
            String through = url.replace(Fleet.address(url), proxy.addresses().get(0)) + "&prepareThreshold=0";
            see(
                    "the reply to COMMIT is lost, without commit tokens",
                    () -> enterAndCut(Docks.WITHOUT_TOKENS, through, proxy));
            see("the reply to COMMIT is lost, with commit tokens", () -> enterAndCut(Docks.MODEL, through, proxy));
        }
    }

    private void enterAndCut(Model model, String through, CuttingProxy proxy) {
        Store cut = Store.open(model, pool(through, 2));
        cut.run(PATIENT, work -> {
            Docks.enter(work, "cut", 1);
            proxy.cutNext(Cut.AFTER_THE_SERVER_HAS_ANSWERED);
        });
    }

    private void locks(boolean postgres) {
        try (UnitOfWork holder = store.begin()) {
            holder.from(Berth.class).forUpdate().list();
            see(
                    "somebody else holds a row for longer than `lockTimeout`",
                    () -> store.run(
                            PATIENT.lockTimeout(Duration.ofSeconds(1)),
                            work -> work.from(Berth.class).forUpdate().list()));
            see(
                    "a statement takes longer than `statementTimeout`",
                    () -> store.run(
                            PATIENT.statementTimeout(Duration.ofMillis(500)),
                            work -> work.from(Berth.class).forUpdate().list()));
        }
        see("two units wait for one another", () -> {
            CountDownLatch both = new CountDownLatch(2);
            List<CompletableFuture<Void>> units = new ArrayList<>();
            for (int first : new int[] {0, 1}) {
                units.add(CompletableFuture.runAsync(() -> store.run(work -> {
                    hold(work, first);
                    both.countDown();
                    Fleet.await(both);
                    hold(work, 1 - first);
                })));
            }
            CompletableFuture.allOf(units.toArray(CompletableFuture[]::new)).join();
        });
        see(
                "somebody else has changed the row since it was read",
                () -> store.run(work -> {
                    Docks.enter(work, "first", 1);
                    store.run(other -> Docks.enter(other, "second", 1));
                }));
        if (postgres) {
            Terms serializable = Terms.retrying(1).isolation(Isolation.SERIALIZABLE);
            see(
                    "a SERIALIZABLE unit has no place in an order with others (PostgreSQL)",
                    () -> store.run(serializable, work -> {
                        work.from(Berth.class).count();
                        work.add(new Berth(501));
                        work.flush();
                        store.run(serializable, other -> {
                            other.from(Berth.class).count();
                            other.add(new Berth(502));
                        });
                    }));
        }
    }

    private static void hold(UnitOfWork work, int number) {
        work.from(Berth.class).where(the(Berth::number).is(number)).forUpdate().list();
    }

    private void refusals(boolean postgres) {
        see("a value is there already that is unique", () -> store.run(work -> work.add(new Berth(1))));
        String readOnly = url
                + (postgres ? "&options=-c%20default_transaction_read_only=on" : "&sessionVariables=tx_read_only=1");
        see(
                "the server takes no writes",
                () -> Store.open(Docks.MODEL, pool(readOnly, 1)).run(work -> work.add(new Berth(600))));
        Fleet.execute(url, "drop table docking");
        see("a table is missing", () -> store.run(work -> Docks.enter(work, "nobody", 1)));
        if (postgres) {
            Store pooled = Store.open(Docks.MODEL, pool(Fleet.tell("pooler", "url"), 2));
            see(
                    "a pooler stands between, and nobody said so (PostgreSQL)",
                    () -> pooled.run(work -> work.require(Berth.class, 1)));
        } else {
            Fleet.execute(url, "set global wsrep_max_ws_rows = 10");
            try {
                see(
                        "a transaction is greater than the cluster takes (MariaDB)",
                        () -> store.run(work -> {
                            for (int number = 700; number < 720; number++) {
                                work.add(new Berth(number));
                            }
                        }));
            } finally {
                Fleet.execute(url, "set global wsrep_max_ws_rows = 0");
            }
        }
    }
}
