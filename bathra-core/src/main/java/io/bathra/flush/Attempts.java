package io.bathra.flush;

import io.bathra.error.BathraException;
import java.util.concurrent.ThreadLocalRandom;
import org.jspecify.annotations.Nullable;

/**
 * How often a piece of work is tried that fails for a reason which may have gone.
 *
 * @param most how often altogether, at least once
 */
public record Attempts(int most) {
    private static final long FIRST_PAUSE = 10;
    private static final long LONGEST_PAUSE = 2_000;

    /**
     * A piece of work.
     *
     * @param <T> the answer
     * @param <X> the checked exception that it may throw
     */
    @FunctionalInterface
    public interface Work<T extends @Nullable Object, X extends Exception> {
        T apply() throws X;
    }

    /** Tries a piece of work as often as that. */
    public <T extends @Nullable Object, X extends Exception> T attempt(Work<T, X> work) throws X {
        for (int attempt = 1; ; attempt++) {
            try {
                return work.apply();
            } catch (BathraException e) {
                if (!e.isRetryable() || attempt >= most) {
                    throw e;
                }
                pause(attempt, e);
            }
        }
    }

    /** Waits after an attempt: those that have met must not meet again. */
    private static void pause(int attempt, BathraException reason) {
        long most = Math.min(LONGEST_PAUSE, FIRST_PAUSE << Math.min(attempt, 10));
        try {
            Thread.sleep(ThreadLocalRandom.current().nextLong(most / 2, most + 1));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            BathraException interrupted = new BathraException(
                    "interrupted between two attempts, after " + attempt + "; nothing was committed", reason);
            interrupted.addSuppressed(e);
            throw interrupted;
        }
    }
}
