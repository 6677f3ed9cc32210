package io.bathra.cli;

import java.io.PrintWriter;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;

/**
 * Ctrl-C while something is being written: the work is asked to stop, and the program ends when it has taken back what
 * it had done.
 */
final class Interruption implements AutoCloseable {
    private static final long MOST_SECONDS = 30;

    private final CountDownLatch over = new CountDownLatch(1);
    private final Thread hook = new Thread(this::await, "interruption");
    private final PrintWriter err;
    private volatile boolean wanted;
    private volatile @Nullable Stop stopped;

    /** Thrown where the work stops. */
    static final class Stop extends RuntimeException {
        private Stop(@Nullable RuntimeException cause) {
            super("interrupted; nothing was stored", cause);
        }
    }

    /**
     * @param err is told in the end: when the program ends by a signal, nobody else may have the time
     */
    Interruption(PrintWriter err) {
        this.err = err;
        Runtime.getRuntime().addShutdownHook(hook);
    }

    private void await() {
        wanted = true;
        try {
            if (over.await(MOST_SECONDS, TimeUnit.SECONDS) && stopped != null) {
                err.println("bathra: " + stopped.getMessage());
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** Stops the work when that is wanted. */
    void check() {
        if (wanted) {
            stop(null);
        }
    }

    /** An embedded database may close before the work has stopped; that it failed then is no news. */
    void explain(RuntimeException failure) {
        if (wanted && !(failure instanceof Stop)) {
            stop(failure);
        }
    }

    private void stop(@Nullable RuntimeException cause) {
        Stop stop = new Stop(cause);
        stopped = stop;
        throw stop;
    }

    /** The work is over. */
    @Override
    public void close() {
        over.countDown();
        try {
            Runtime.getRuntime().removeShutdownHook(hook);
        } catch (IllegalStateException e) {
            // it runs, since the program is about to end
        }
    }
}
