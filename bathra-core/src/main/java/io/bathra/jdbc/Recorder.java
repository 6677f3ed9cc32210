package io.bathra.jdbc;

import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.Operation;
import io.bathra.trace.StatementListener;
import io.bathra.trace.Trace;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** A trace that transactions write, and the one place from which listeners are told of statements. */
public final class Recorder extends Trace {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra");

    private final long unit;
    private final @Nullable StatementListener listener;
    private int transaction;
    private int trips;
    private int step;
    private @Nullable Operation operation;

    /**
     * @param unit the number of the unit whose trace it is
     * @param listener who stands around statements; null for nobody
     */
    public Recorder(long unit, @Nullable StatementListener listener) {
        this.unit = unit;
        this.listener = listener;
    }

    /** The number of the unit. */
    public long unit() {
        return unit;
    }

    /** What is executed from now on carries out a step of a plan; 0 for none. */
    public void carriesOut(int newStep, @Nullable Operation newOperation) {
        step = newStep;
        operation = newOperation;
    }

    /** Something is about to be executed; gives back who is to be told of its end. */
    StatementListener.@Nullable Ending started(
            Kind kind, CharSequence cause, Shown shown, @Nullable String path, long start) {
        if (listener == null) {
            return null;
        }
        try {
            return listener.started(told(kind, cause, shown, at(shown, trips + 1), path, 0, start, 0));
        } catch (RuntimeException e) {
            LOG.warn("a listener of statements has failed when one was started", e);
            return null;
        }
    }

    /** Something was executed. */
    void ended(
            Kind kind,
            CharSequence cause,
            Shown shown,
            @Nullable String path,
            long rows,
            long start,
            long nanos,
            StatementListener.@Nullable Ending ending) {
        if (kind == Kind.BEGIN) {
            transaction++;
            trips = 0;
        }
        boolean trip = kind != Kind.MEMORY && kind != Kind.BEGIN;
        trips += trip ? 1 : 0;
        At at = at(shown, trip ? trips : 0);
        add(kind, cause, shown, at, path, rows, start, nanos);
        if (ending != null) {
            tell(ending, told(kind, cause, shown, at, path, rows, start, nanos), null);
        }
    }

    /** Something has failed. */
    void failed(
            Kind kind,
            CharSequence cause,
            Shown shown,
            @Nullable String path,
            long start,
            StatementListener.@Nullable Ending ending,
            Throwable failure) {
        trips++;
        if (ending != null) {
            long nanos = System.nanoTime() - start;
            tell(ending, told(kind, cause, shown, at(shown, trips), path, 0, start, nanos), failure);
        }
    }

    private At at(Shown shown, int trip) {
        String table = operation == null ? null : shown.table();
        return new At(
                unit,
                transaction,
                trip,
                1,
                step,
                operation,
                table,
                Thread.currentThread().getName());
    }

    private static void tell(StatementListener.Ending ending, Executed executed, @Nullable Throwable failure) {
        try {
            ending.ended(executed, failure);
        } catch (RuntimeException e) {
            LOG.warn("a listener of statements has failed when one had ended", e);
        }
    }
}
