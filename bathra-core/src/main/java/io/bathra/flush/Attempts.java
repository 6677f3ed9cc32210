package io.bathra.flush;

import io.bathra.error.BathraException;
import java.time.Duration;
import java.util.concurrent.ThreadLocalRandom;
import org.jspecify.annotations.Nullable;

/**
 * How often, and for how long, work is tried that fails for a reason which may have gone.
 *
 * @param most how often altogether, at least once
 * @param upTo how long altogether; null for no limit
 */
public record Attempts(int most, @Nullable Duration upTo) {
    /** Once. */
    public static final Attempts ONE = new Attempts(1, null);

    private static final long FIRST_PAUSE = 20;
    private static final long LONGEST_PAUSE = 2_000;
    private static final double NANOS = 1e9;

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

    /** Whether work may be done more than once. */
    public boolean areSeveral() {
        return most > 1;
    }

    /** For as long as that, however often; where nothing is said, so often. */
    Attempts orAtMost(int otherwise) {
        return new Attempts(upTo == null ? otherwise : Integer.MAX_VALUE, upTo);
    }

    /** Tries a piece of work as often, and for as long, as that. */
    public <T extends @Nullable Object, X extends Exception> T attempt(Work<T, X> work) throws X {
        long begun = System.nanoTime();
        for (int attempt = 1; ; attempt++) {
            try {
                return work.apply();
            } catch (BathraException e) {
                if (!e.isRetryable() || !areSeveral()) {
                    throw e;
                }
                long taken = System.nanoTime() - begun;
                long left = upTo == null ? Long.MAX_VALUE : upTo.toNanos() - taken;
                if (attempt >= most || left <= 0) {
                    e.addSuppressed(new BathraException(String.format(
                                    "given up after %d attempts in %.1f s", attempt, taken / NANOS)
                            + (left <= 0 ? ", as upTo(" + upTo + ") says" : ", as retrying(" + most + ") says")));
                    throw e;
                }
                pause(attempt, left / 1_000_000, e);
            }
        }
    }

    /**
     * Waits after an attempt, for a time that is random from nothing on: those that have met must not meet again
     * (exponential backoff with full jitter, as Marc Brooker describes it).
     */
    private static void pause(int attempt, long leftMillis, BathraException reason) {
        long most = Math.min(LONGEST_PAUSE, FIRST_PAUSE << Math.min(attempt, 10));
        try {
            Thread.sleep(Math.min(leftMillis, ThreadLocalRandom.current().nextLong(most + 1)));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            BathraException interrupted = new BathraException(
                    "interrupted between two attempts, after " + attempt + "; nothing was committed", reason);
            interrupted.addSuppressed(e);
            throw interrupted;
        }
    }
}
