package io.bathra.trace;

import io.bathra.text.Cause;
import io.bathra.trace.Executed.Kind;
import java.time.Duration;
import java.time.Instant;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * What was noted when something was executed. Words and times are made of it when somebody reads them, since few are
 * read.
 */
final class Note {
    /** Reading the wall clock for each statement would cost more than noting it. */
    private static final Instant THEN = Instant.now();

    private static final long NANOS_THEN = System.nanoTime();

    final int number;
    final Kind kind;
    final CharSequence cause;
    private final Supplier<String> sql;
    private final Trace.At at;
    private final @Nullable String path;
    private final long rows;
    private final long start;
    private final long nanos;

    /**
     * @param start by the clock of {@link System#nanoTime}
     */
    Note(
            int number,
            Kind kind,
            CharSequence cause,
            Supplier<String> sql,
            Trace.At at,
            @Nullable String path,
            long rows,
            long start,
            long nanos) {
        this.number = number;
        this.kind = kind;
        this.cause = cause;
        this.sql = sql;
        this.at = at;
        this.path = path;
        this.rows = rows;
        this.start = start;
        this.nanos = nanos;
    }

    Executed executed() {
        return new Executed(
                at.unit(),
                at.transaction(),
                at.trip(),
                at.part(),
                at.step(),
                kind,
                at.operation(),
                at.table(),
                sql.get(),
                path,
                rows,
                THEN.plusNanos(start - NANOS_THEN),
                Duration.ofNanos(nanos),
                at.thread(),
                Cause.withoutValues(cause),
                Cause.fix(cause));
    }

    TraceLine line() {
        return new TraceLine(number, executed(), cause.toString());
    }
}
