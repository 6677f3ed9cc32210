package io.bathra;

import java.sql.Connection;
import java.time.Duration;
import java.util.concurrent.ThreadLocalRandom;
import org.jspecify.annotations.Nullable;

/**
 * The terms of a unit of work. Immutable.
 *
 * <pre>{@code
 * store.run(retrying(5).isolation(SERIALIZABLE), work -> ...);
 * }</pre>
 */
public final class Terms {
    private static final long FIRST_PAUSE = 10;
    private static final long LONGEST_PAUSE = 2_000;

    /** What holds when nothing is said: one attempt, the connection's own isolation level, reading and writing. */
    static final Terms PLAIN = new Terms(1, null, false);

    private final int attempts;
    private final @Nullable Isolation isolation;
    private final boolean readOnly;

    private Terms(int attempts, @Nullable Isolation isolation, boolean readOnly) {
        this.attempts = attempts;
        this.isolation = isolation;
        this.readOnly = readOnly;
    }

    /**
     * A piece of work that fails for a reason which may have gone, a deadlock say, is done again from the start, in a new unit
     * of work. Between two attempts there is a pause of random length, longer each time.
     *
     * @param attempts how often it is tried altogether
     * @throws IllegalArgumentException when that is below 1
     */
    public static Terms retrying(int attempts) {
        if (attempts < 1) {
            throw new IllegalArgumentException("retrying(" + attempts + "): work is tried once at least");
        }
        return new Terms(attempts, null, false);
    }

    /** Units that write nothing: they look for no changes, and the database may know that. */
    public static Terms reading() {
        return PLAIN.readOnly();
    }

    /** The same terms with an isolation level, in place of the connection's own. */
    public Terms isolation(Isolation level) {
        return new Terms(attempts, level, readOnly);
    }

    /** The same terms for units that write nothing. */
    public Terms readOnly() {
        return new Terms(attempts, isolation, true);
    }

    int attempts() {
        return attempts;
    }

    boolean isReadOnly() {
        return readOnly;
    }

    /** The level by JDBC's number; 0 for the connection's own. */
    int level() {
        return isolation == null
                ? Connection.TRANSACTION_NONE
                : switch (isolation) {
                    case READ_COMMITTED -> Connection.TRANSACTION_READ_COMMITTED;
                    case REPEATABLE_READ -> Connection.TRANSACTION_REPEATABLE_READ;
                    case SERIALIZABLE -> Connection.TRANSACTION_SERIALIZABLE;
                };
    }

    /** How long to wait after an attempt: those that have met must not meet again. */
    static Duration pause(int attempt) {
        long most = Math.min(LONGEST_PAUSE, FIRST_PAUSE << Math.min(attempt, 10));
        return Duration.ofMillis(ThreadLocalRandom.current().nextLong(most / 2, most + 1));
    }
}
