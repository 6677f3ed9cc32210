package io.bathra.page;

import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import java.time.Duration;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Something that was executed, as a page shows it.
 *
 * @param cause the call that caused it, with the keys that were asked for only where they may be shown
 * @param failure why it has failed, without anything that a database has said of values; null when it has not
 */
record Event(Executed what, String cause, @Nullable String failure) {
    private static final List<String> WRITING = List.of("insert ", "update ", "delete ", "merge ", "replace ", "copy ");

    boolean isStatement() {
        return what.kind() == Kind.STATEMENT;
    }

    /** Whether it writes rows; of a statement of somebody's own, its first word tells. */
    boolean isWriting() {
        String sql = what.sql().stripLeading();
        return what.operation() != null
                || WRITING.stream().anyMatch(word -> sql.regionMatches(true, 0, word, 0, word.length()));
    }

    double millis() {
        return what.time().toNanos() / 1e6;
    }

    /** When it began, in nanoseconds since the epoch's second of another one. */
    long nanosAfter(Executed first) {
        return Duration.between(first.start(), what.start()).toNanos();
    }
}
