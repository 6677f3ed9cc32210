package io.bathra.jdbc;

import io.bathra.trace.Trace;
import io.bathra.trace.TraceLine.Kind;
import io.bathra.trace.TraceListener;
import org.jspecify.annotations.Nullable;

/** A trace that transactions write. */
public final class Recorder extends Trace {
    private final @Nullable TraceListener listener;

    /** A trace that somebody hears of, line by line; null for nobody. */
    public Recorder(@Nullable TraceListener listener) {
        this.listener = listener;
    }

    void note(Kind kind, CharSequence cause, String sql, @Nullable String path, long rows, long nanos) {
        add(kind, cause, sql, path, rows, nanos);
        if (listener != null) {
            listener.executed(latest());
        }
    }
}
