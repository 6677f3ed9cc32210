package io.bathra.jdbc;

import java.sql.SQLException;
import java.sql.Statement;
import org.jspecify.annotations.Nullable;

/**
 * Lets another thread stop the statement that a unit of work is waiting for. An interrupt of the thread stops none, on
 * no database.
 */
final class Cancellation {
    /** A server may be told so late that it stops the statement behind. */
    private static final long LATE_NANOS = 1_000_000_000L;

    private @Nullable Statement running;
    private boolean asked;
    private long askedAt = Long.MIN_VALUE;

    /** A statement begins. What came too late for the one before does not concern it. */
    synchronized void begun(Statement statement) {
        running = statement;
        asked = false;
    }

    /** It has ended. While somebody stops it, it does not, so that nothing else is stopped in its place. */
    synchronized void ended() {
        running = null;
    }

    /** Stops what is running; tells whether anything was. */
    synchronized boolean cancel() throws SQLException {
        Statement stopping = running;
        if (stopping == null) {
            return false;
        }
        asked = true;
        askedAt = System.nanoTime();
        stopping.cancel();
        return true;
    }

    /** Whether somebody has stopped the statement that has come to its end, well or not; told once. */
    synchronized boolean isTold(boolean asStopped) {
        boolean late = asStopped && askedAt != Long.MIN_VALUE && System.nanoTime() - askedAt < LATE_NANOS;
        boolean told = asked || late;
        asked = false;
        askedAt = told ? Long.MIN_VALUE : askedAt;
        return told;
    }
}
