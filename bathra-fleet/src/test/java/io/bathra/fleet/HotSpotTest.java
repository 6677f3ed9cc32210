package io.bathra.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.bathra.testing.OtherProcess;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfEnvironmentVariable;

/** Many at once: a herd on few rows, and whether programs that want nothing in common get into each other's way. */
@EnabledIfEnvironmentVariable(named = "FLEET", matches = ".+")
class HotSpotTest {
    private static final int PROCESSES = 8;
    private static final AtomicInteger DATABASES = new AtomicInteger();

    private static String emptyPostgres() {
        String server = Fleet.tell("pooler", "server");
        String database = "hot" + ProcessHandle.current().pid() + "_" + DATABASES.incrementAndGet();
        Fleet.execute(server, "create database " + database);
        return server.replaceFirst("/[^/?]*\\?", "/" + database + "?");
    }

    private static String emptyMariaDb() {
        String database = "hot" + ProcessHandle.current().pid() + "_" + DATABASES.incrementAndGet();
        Fleet.execute(Fleet.urls("galera", "mysql").get(0), "create database " + database);
        return Fleet.urls("galera", database).get(0);
    }

    @Test
    void aHerdOnPostgresLosesNoUnit() {
        try (HikariDataSource pool = Fleet.pool(emptyPostgres(), 100)) {
            Store store = Store.open(Docks.MODEL, pool);
            Docks.fill(store);
            Clerks herd = Clerks.run("herd ", 500, List.of(store), Fleet.RETRYING, Fleet.LONG ? 20 : 4);
            Fleet.say("postgres, 500 threads on %d rows: %s", Docks.BERTHS, herd);
            herd.haveAllSucceeded();
            Docks.holds(store, herd.acknowledged());
        }
    }

    /**
     * Each process enters ships on a berth of its own, so that only keys, tokens and their cleaning are common to
     * all.
     */
    @Test
    void keysAndTokensAreNoHotSpot() throws Exception {
        int ships = Fleet.LONG ? 5_000 : 250;
        for (String url : List.of(emptyPostgres(), emptyMariaDb())) {
            String what = url.contains("postgresql") ? "postgres" : "mariadb";
            try (HikariDataSource pool = Fleet.pool(url, 4)) {
                Store store = Store.open(Docks.MODEL, pool);
                Docks.fill(store);
                long[] waits = new long[2];
                int[] millis = new int[2];
                for (int tokens = 0; tokens < 2; tokens++) {
                    try (LockWaits watched = new LockWaits(url)) {
                        millis[tokens] = enterApart(url, tokens == 1 ? "apart" : "tokenless", ships);
                        waits[tokens] = watched.seen();
                    }
                }
                long left = Docks.count(store, "select count(*) from unit_token");
                Fleet.say(
                        "%s, %d processes, %d units each on rows of their own: lock waits %d without tokens, %d with; %d"
                                + " tokens left; %.2f times as long with tokens",
                        what, PROCESSES, ships, waits[0], waits[1], left, (double) millis[1] / millis[0]);
                long units = PROCESSES * ships;
                for (long some : waits) {
                    assertThat(some).as("waits for locks in %d units", units).isLessThanOrEqualTo(units / 100);
                }
                assertThat(left).as("tokens that nobody has cleaned away").isLessThanOrEqualTo(PROCESSES * 101L);
            }
        }
    }

    private static int enterApart(String url, String how, int ships) throws Exception {
        List<OtherProcess> processes = new ArrayList<>();
        for (int i = 0; i < PROCESSES; i++) {
            processes.add(OtherProcess.run(ClerkProcess.class, how, url, how + i, "1", "" + ships));
        }
        int millis = 0;
        for (OtherProcess process : processes) {
            millis += ClerkProcess.millis(process.output());
        }
        return millis;
    }

    /**
     * Counts how often somebody waits for a lock: MariaDB does that itself, on PostgreSQL one looks every few
     * milliseconds.
     */
    private static final class LockWaits implements AutoCloseable {
        private static final String COUNTED = "select variable_value from information_schema.global_status where"
                + " variable_name = 'INNODB_ROW_LOCK_WAITS'";
        private static final String LOOKED_AT =
                "select count(*) from pg_stat_activity where wait_event_type = 'Lock' and datname = current_database()";

        private final String url;
        private final boolean looks;
        private final long before;
        private final AtomicBoolean working = new AtomicBoolean(true);
        private final AtomicInteger seen = new AtomicInteger();
        private final Thread looking;

        LockWaits(String url) {
            this.url = url;
            this.looks = url.contains("postgresql");
            this.before = looks ? 0 : counted();
            this.looking = new Thread(() -> {
                while (looks && working.get()) {
                    seen.addAndGet(Integer.parseInt(Fleet.ask(url, LOOKED_AT).get(0)));
                    Fleet.sleep(5);
                }
            });
            looking.start();
        }

        private long counted() {
            return Long.parseLong(Fleet.ask(url, COUNTED).get(0));
        }

        long seen() {
            return looks ? seen.get() : counted() - before;
        }

        @Override
        public void close() {
            working.set(false);
        }
    }
}
