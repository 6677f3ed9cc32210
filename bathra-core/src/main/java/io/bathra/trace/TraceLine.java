package io.bathra.trace;

import io.bathra.trace.Executed.Kind;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * One line of a trace, in order of execution.
 *
 * @param number its place, from 1
 * @param executed what happened
 * @param cause the call that caused it, with the key that was asked for: {@code find Vessel 7}
 */
public record TraceLine(int number, Executed executed, String cause) {
    /** {@return what happened} */
    public Kind kind() {
        return executed.kind();
    }

    /** {@return the statement with placeholders, or words where there was none} */
    public String sql() {
        return executed.sql();
    }

    /** {@return the word for the way in which values went to the database; null for a plain one} */
    public @Nullable String path() {
        return executed.path();
    }

    /** {@return rows read or written} */
    public long rows() {
        return executed.rows();
    }

    /** {@return how long it took} */
    public Duration time() {
        return executed.time();
    }

    @Override
    public String toString() {
        Kind kind = executed.kind();
        List<String> measured = new ArrayList<>(3);
        boolean along = executed.part() > 1;
        if (kind == Kind.STATEMENT) {
            measured.add(rows() + " rows");
            if (!along || !time().isZero()) {
                measured.add(String.format("%.1f ms", time().toNanos() / 1e6));
            }
        }
        if (along) {
            measured.add("same trip");
        }
        return String.format(
                "%4d  %-9s  %s: %s%s",
                number,
                kind.name().toLowerCase(Locale.ROOT),
                cause,
                sql(),
                measured.isEmpty() ? "" : "  [" + String.join(", ", measured) + "]");
    }
}
