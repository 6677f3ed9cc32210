package io.bathra.cli.measure;

import io.bathra.trace.Executed;
import io.bathra.trace.StatementListener;
import java.util.function.LongConsumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Measures one way: how many rows it has done, by how many statements, and whether its time is over. */
final class Meter implements StatementListener {
    private final long most;
    private final long limitNanos;
    private final LongConsumer progress;
    private final Runnable check;
    private long rows;
    private long begun;
    private long nanos;
    private int statements;
    private int trips;
    private volatile boolean counting;

    /**
     * @param most how many rows are wanted
     * @param limitNanos how long it may take
     * @param progress is told how many rows are done
     * @param check throws when the work is to be stopped
     */
    Meter(long most, long limitNanos, LongConsumer progress, Runnable check) {
        this.most = most;
        this.limitNanos = limitNanos;
        this.progress = progress;
        this.check = check;
    }

    /** From now on it counts. */
    synchronized void begin() {
        counting = true;
        begun = System.nanoTime();
    }

    /** It counts no more. */
    synchronized void end() {
        nanos = System.nanoTime() - begun;
        counting = false;
    }

    /** Does something that does not count: neither its time nor its statements. */
    <T> T apart(Supplier<T> task) {
        long start = System.nanoTime();
        counting = false;
        try {
            return task.get();
        } finally {
            counting = true;
            begun += System.nanoTime() - start;
        }
    }

    /** Whether there is more to do. */
    boolean goesOn() {
        check.run();
        return rows < most && System.nanoTime() - begun < limitNanos;
    }

    /** Rows are done. */
    void did(long more) {
        rows += more;
        progress.accept(rows);
    }

    /** How many are to be done at once, where some are. */
    int portion(int usual) {
        return (int) Math.min(usual, most - rows);
    }

    long rows() {
        return rows;
    }

    long nanos() {
        return nanos;
    }

    synchronized int statements() {
        return statements;
    }

    synchronized int trips() {
        return trips;
    }

    @Override
    public @Nullable Ending started(Executed statement) {
        return (ended, failure) -> count(ended);
    }

    private synchronized void count(Executed ended) {
        if (!counting) {
            return;
        }
        statements += ended.kind() == Executed.Kind.STATEMENT ? 1 : 0;
        trips += ended.trip() > 0 && ended.part() <= 1 ? 1 : 0;
    }
}
