package io.bathra.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.fleet.CuttingProxy.Cut;
import java.util.Random;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;

/** Units whose COMMIT is cut, half of them before the server has it, half of them after it has answered. */
final class CutCommits {
    private static final int TIMES = 200;

    private CutCommits() {}

    /** Runs them, and looks that each was done once; gives what is to be told of them. */
    static String of(Store store, CuttingProxy proxy, Terms terms) {
        Random random = new Random(30);
        int[] cuts = new int[Cut.values().length];
        AtomicInteger attempts = new AtomicInteger();
        for (int number = 0; number < TIMES; number++) {
            int own = number;
            Cut cut = Cut.values()[random.nextInt(cuts.length)];
            cuts[cut.ordinal()]++;
            AtomicBoolean first = new AtomicBoolean(true);
            store.run(terms, work -> {
                attempts.incrementAndGet();
                Docks.enter(work, "cut", own);
                if (first.getAndSet(false)) {
                    proxy.cutNext(cut);
                }
            });
        }
        assertThat(proxy.cuts()).isEqualTo(TIMES);
        Docks.holds(store, TIMES);
        int before = cuts[Cut.BEFORE_THE_SERVER_HAS_IT.ordinal()];
        assertThat(attempts.get())
                .as("attempts, one more where the server had nothing")
                .isEqualTo(TIMES + before);
        return String.format(
                "%d connections cut at COMMIT, %d before the server had it and %d after it had answered: %d units done,"
                        + " each once, in %d attempts",
                TIMES, before, TIMES - before, TIMES, attempts.get());
    }
}
