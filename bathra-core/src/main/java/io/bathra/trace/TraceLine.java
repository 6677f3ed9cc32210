package io.bathra.trace;

import java.time.Duration;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * One thing that happened, in order of execution.
 *
 * @param number its place, from 1
 * @param kind what happened
 * @param cause the call that caused it: {@code flush}, {@code find Vessel 7}, {@code read PortCall.vessel}
 * @param sql the statement with placeholders, or words where there was none
 * @param path the write path that was taken, or null for anything else
 * @param rows rows read or written
 * @param nanos the time it took, in nanoseconds
 * @param fix what would do the same with fewer statements, if this were one of many of its shape
 */
public record TraceLine(
        int number,
        Kind kind,
        String cause,
        String sql,
        @Nullable String path,
        long rows,
        long nanos,
        String fix) {
    /** What can happen. */
    public enum Kind {
        BEGIN,
        STATEMENT,
        /** Answered from the identity map: no statement was needed. */
        MEMORY,
        SAVEPOINT,
        ROLLBACK,
        COMMIT
    }

    public Duration time() {
        return Duration.ofNanos(nanos);
    }

    @Override
    public String toString() {
        String measured = kind == Kind.STATEMENT ? String.format("  [%d rows, %.1f ms]", rows, nanos / 1e6) : "";
        return String.format("%4d  %-9s  %s: %s%s", number, kind.name().toLowerCase(Locale.ROOT), cause, sql, measured);
    }
}
