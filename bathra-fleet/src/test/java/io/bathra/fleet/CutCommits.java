package io.bathra.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.fleet.CuttingProxy.Cut;
import io.bathra.trace.StoreListener;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;

/** Units whose COMMIT is cut, half of them before the server has it, half of them after it has answered. */
final class CutCommits {
    private static final int TIMES = 200;

    /** A machine that is very busy loses a connection by itself now and then. */
    private static final int OTHER_LOSSES = 4;

    private CutCommits() {}

    /** Runs them, and looks that each was done once; gives what is to be told of them. */
    static String of(Store store, CuttingProxy proxy, Terms terms) {
        Random random = new Random(30);
        List<Cut> kinds = List.of(Cut.BEFORE_THE_SERVER_HAS_IT, Cut.AFTER_THE_SERVER_HAS_ANSWERED);
        int[] cuts = new int[Cut.values().length];
        AtomicInteger attempts = new AtomicInteger();
        Map<String, Integer> failures = new ConcurrentHashMap<>();
        Store heard = store.heardBy(new StoreListener() {
            @Override
            public void flushFailed(Unit unit, Throwable failure) {
                failures.merge(String.valueOf(failure.getMessage()), 1, Integer::sum);
            }
        });
        for (int number = 0; number < TIMES; number++) {
            int own = number;
            Cut cut = kinds.get(random.nextInt(kinds.size()));
            cuts[cut.ordinal()]++;
            AtomicBoolean first = new AtomicBoolean(true);
            heard.run(terms, work -> {
                Docks.enter(work, "cut", own);
                attempts.incrementAndGet(); // that come to a COMMIT
                if (first.getAndSet(false)) {
                    proxy.cutNext(cut);
                }
            });
        }
        assertThat(proxy.cuts()).isEqualTo(TIMES);
        Docks.holds(store, TIMES);
        int before = cuts[Cut.BEFORE_THE_SERVER_HAS_IT.ordinal()];
        assertThat(attempts.get())
                .as("%d attempts, one more where the server had nothing; seen: %s", attempts.get(), failures)
                .isBetween(TIMES + before, TIMES + before + OTHER_LOSSES);
        return String.format(
                "%d connections cut at COMMIT, %d before the server had it and %d after it had answered: %d units done,"
                        + " each once, in %d attempts",
                TIMES, before, TIMES - before, TIMES, attempts.get());
    }

    /**
     * Cuts a connection while the server waits for a row that somebody holds. It has still to come to the token when
     * it is asked, and goes on with all of it once the row is free.
     */
    static void whileTheServerWaits(Store store, CuttingProxy proxy, Terms terms, String holder) throws Exception {
        AtomicInteger attempts = new AtomicInteger();
        CountDownLatch asked = new CountDownLatch(1);
        CountDownLatch goneOn = new CountDownLatch(1);
        Thread unit = new Thread(() -> store.run(terms, work -> {
            int attempt = attempts.incrementAndGet();
            if (attempt == 2) {
                asked.countDown();
                Fleet.await(goneOn);
            }
            Docks.enter(work, "cut while waiting", 0);
            if (attempt == 1) {
                proxy.cutNext(Cut.WHILE_THE_SERVER_WORKS);
            }
        }));
        try (Connection held = DriverManager.getConnection(holder);
                Statement statement = held.createStatement()) {
            held.setAutoCommit(false);
            statement.execute("select * from berth where number = 0 for update");
            unit.start();
            asked.await();
            held.rollback();
        }
        Fleet.sleep(1_000); // what the server has still to do, it does now
        goneOn.countDown();
        unit.join();
        Docks.holds(store, 1);
    }
}
