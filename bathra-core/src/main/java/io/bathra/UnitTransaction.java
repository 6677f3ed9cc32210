package io.bathra;

import io.bathra.Flush.RowsMissing;
import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.ContentionException;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.jdbc.Transaction;
import io.bathra.plan.FlushPlan;
import io.bathra.plan.Planner;
import io.bathra.track.Collector;
import io.bathra.track.Tracker;
import io.bathra.track.UndoLog;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** The transaction of a unit of work: what was flushed in it, how it ends, and whether the unit can go on when it fails. */
final class UnitTransaction {
    private final Store store;
    private final Transaction transaction;
    private final Tracker tracker;
    private final Collector collector;
    private final UnitGuard guard;
    private final UndoLog undo;
    private FlushReport report = FlushReport.NOTHING;

    /** An error in a transaction that has written, which the database may answer by rolling back on commit. */
    private @Nullable StatementException unrecovered;

    UnitTransaction(Store store, Transaction transaction, Tracker tracker, Collector collector, UnitGuard guard) {
        this.store = store;
        this.transaction = transaction;
        this.tracker = tracker;
        this.collector = collector;
        this.guard = guard;
        this.undo = new UndoLog(tracker);
    }

    /** What was flushed since the last commit. */
    FlushReport written() {
        return report;
    }

    /** Runs something that reads, and takes note when it fails. */
    <T> T reading(Supplier<T> read) {
        try {
            return guard.alone(read);
        } catch (StatementException e) {
            if (isTransactionGone(e)) {
                breakDown(e);
            } else if (transaction.hasWritten()) {
                unrecovered = e;
            } else {
                transaction.rollback();
            }
            throw e;
        }
    }

    private static boolean isTransactionGone(RuntimeException e) {
        return e instanceof ConnectionLostException
                || e instanceof ContentionException contention && contention.isTransactionGone();
    }

    FlushReport flush() {
        FlushPlan plan = Planner.plan(tracker, collector.collect());
        if (plan.isEmpty()) {
            return FlushReport.NOTHING;
        }
        Flush flush = new Flush(transaction, store.keyDrawer(transaction), plan);
        boolean savepoint = transaction.hasWritten();
        try {
            if (savepoint) {
                transaction.savepoint();
            }
            flush.write(undo);
            if (savepoint) {
                transaction.releaseSavepoint();
            }
        } catch (RowsMissing e) {
            goBack(savepoint, e);
            BathraException explained = reading(() -> flush.explain(e));
            if (!savepoint) {
                transaction.rollback(); // finding out has begun another transaction, which must hold no locks
            }
            throw explained;
        } catch (RuntimeException e) {
            goBack(savepoint, e);
            throw e;
        }
        FlushReport written = flush.settle(undo);
        report = report.plus(written);
        return written;
    }

    /** Takes back what a failed flush has written so far: all of the transaction when nothing was written before. */
    private void goBack(boolean toSavepoint, RuntimeException cause) {
        if (isTransactionGone(cause)) {
            breakDown((BathraException) cause);
            return;
        }
        try {
            if (toSavepoint) {
                transaction.rollbackToSavepoint();
            } else {
                transaction.rollback();
            }
        } catch (BathraException e) {
            cause.addSuppressed(e);
            breakDown(e);
        }
    }

    FlushReport commit() {
        if (unrecovered != null) {
            throw new UnitStateException(
                    "nothing was committed: a statement of this transaction has failed and the database may have given"
                            + " up the whole; call rollback() and do the work again",
                    unrecovered);
        }
        flush();
        try {
            transaction.commit();
        } catch (CommitUnknownException e) {
            breakDown(e);
            throw e;
        } catch (BathraException e) {
            try {
                rollback();
            } catch (BathraException again) {
                e.addSuppressed(again);
            }
            throw e;
        }
        undo.forget();
        FlushReport committed = report;
        report = FlushReport.NOTHING;
        return committed;
    }

    void rollback() {
        undo.undo();
        report = FlushReport.NOTHING;
        unrecovered = null;
        try {
            transaction.rollback();
        } catch (BathraException e) {
            breakDown(e);
            throw e;
        }
    }

    private void breakDown(BathraException cause) {
        guard.breakDown(cause);
        undo.undo();
        transaction.close();
    }

    /** Rolls back without a word. */
    void abandon() {
        undo.undo();
        transaction.close();
    }
}
