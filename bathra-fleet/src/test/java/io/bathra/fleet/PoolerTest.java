package io.bathra.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.History.Wish;
import io.bathra.testing.OtherProcess;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfEnvironmentVariable;
import org.junit.jupiter.api.io.TempDir;

/** A pooler that gives each transaction to any of five sessions of the server. */
@EnabledIfEnvironmentVariable(named = "FLEET", matches = ".+")
class PoolerTest {
    private static final String POOLER = "pooler";
    private static final int PROCESSES = 3;
    private static final int THREADS = 4;

    /** By four kinds of terms, in turn. */
    private static final int EACH = 1_668;

    private static final List<String> SETTINGS = List.of(
            "transaction_isolation",
            "default_transaction_isolation",
            "default_transaction_read_only",
            "lock_timeout",
            "statement_timeout",
            "search_path");

    private static final AtomicInteger DATABASES = new AtomicInteger();

    private String url;
    private HikariDataSource pool;
    private Store store;

    @BeforeEach
    void emptyDatabase() {
        String database = "docks" + ProcessHandle.current().pid() + "_" + DATABASES.incrementAndGet();
        Fleet.execute(Fleet.tell(POOLER, "server"), "create database " + database);
        url = Fleet.urls(POOLER, database).get(0);
        pool = Fleet.pool(url, 4);
        store = Store.open(Docks.MODEL, pool).throughPooler();
        Docks.fill(store);
    }

    @AfterEach
    void close() {
        store.close();
        pool.close();
    }

    @Test
    void twelveThreadsOfThreeProcessesLoseNothingAndLeaveNoSettingToOthers() throws Exception {
        AtomicBoolean working = new AtomicBoolean(true);
        Map<String, Set<String>> seen = new TreeMap<>();
        Thread watcher = new Thread(() -> {
            while (working.get()) {
                for (String setting : SETTINGS) {
                    seen.computeIfAbsent(setting, any -> new TreeSet<>())
                            .add(store.sql("show " + setting).as(String.class).one());
                }
            }
        });
        watcher.start();
        int acknowledged = work("pooler", EACH);
        working.set(false);
        watcher.join();
        Fleet.say(
                "pooler, %d threads of %d processes: %d units acknowledged; what others see meanwhile: %s",
                PROCESSES * THREADS, PROCESSES, acknowledged, seen);
        assertThat(acknowledged).isEqualTo(EACH * PROCESSES * THREADS).isGreaterThanOrEqualTo(20_000);
        Docks.holds(store, acknowledged);
        assertThat(seen.values()).as("values of %s", seen).allMatch(values -> values.size() == 1);
    }

    /** With what the driver does by itself, commits would be acknowledged and lost. */
    @Test
    void programsThatSayNothingOfThePoolerDoNothing() throws Exception {
        for (int i = 0; i < PROCESSES; i++) {
            OtherProcess process = OtherProcess.run(ClerkProcess.class, "plain", url, "untold" + i + " ", "4", "50");
            assertThatThrownBy(process::output)
                    .hasMessageContaining("a pooler stands before the server")
                    .hasMessageContaining("store.throughPooler(), or prepareThreshold=0 in the URL");
        }
        Docks.holds(store, 0);
        try (Store byUrl = Store.open(Docks.MODEL, url + "&prepareThreshold=0")) {
            byUrl.run(work -> Docks.enter(work, "by URL", 1));
        }
        Docks.holds(store, 1);
        Fleet.say("pooler, %d processes that say nothing of it: refused, nothing written", PROCESSES);
    }

    @Test
    void changesOfTheSchemaAreRefusedWhetherThePoolerIsToldOrSeen(@TempDir Path folder) throws Exception {
        SchemaChanges drafts = SchemaChanges.of(folder);
        drafts.write(drafts.draft("docks", Docks.MODEL, Wish.NONE));
        try (Store byUrl = Store.open(Docks.MODEL, url + "&prepareThreshold=0")) {
            for (Store through : List.of(store, byUrl)) {
                assertThatThrownBy(SchemaChanges.of(through, folder)::apply)
                        .hasMessageContaining("change files are applied in one session of the server");
            }
        }
    }

    private int work(String how, int each) throws Exception {
        List<OtherProcess> processes = new ArrayList<>();
        for (int i = 0; i < PROCESSES; i++) {
            processes.add(OtherProcess.run(ClerkProcess.class, how, url, "process" + i + " ", "" + THREADS, "" + each));
        }
        int acknowledged = 0;
        for (OtherProcess process : processes) {
            acknowledged += ClerkProcess.acknowledged(process.output());
        }
        return acknowledged;
    }
}
