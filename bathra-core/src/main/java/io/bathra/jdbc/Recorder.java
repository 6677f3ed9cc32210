package io.bathra.jdbc;

import io.bathra.trace.Trace;
import io.bathra.trace.TraceLine.Kind;
import org.jspecify.annotations.Nullable;

/** A trace that transactions write. */
public final class Recorder extends Trace {
    void note(Kind kind, CharSequence cause, String sql, @Nullable String path, long rows, long nanos) {
        add(kind, cause, sql, path, rows, nanos);
    }
}
