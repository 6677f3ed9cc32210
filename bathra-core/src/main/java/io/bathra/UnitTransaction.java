package io.bathra;

import io.bathra.Flush.RowsMissing;
import io.bathra.error.AfterCommitException;
import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.ContentionException;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.jdbc.Transaction;
import io.bathra.plan.FlushPlan;
import io.bathra.plan.Planner;
import io.bathra.track.Changes;
import io.bathra.track.Collector;
import io.bathra.track.Settlement;
import io.bathra.track.Tracker;
import io.bathra.track.UndoLog;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
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

    private final UnitOfWork work;
    private final List<UnitListener> listeners = new ArrayList<>();

    /** What is to be told when the transaction is committed. */
    private final List<Runnable> afterCommit = new ArrayList<>();

    UnitTransaction(
            UnitOfWork work,
            Store store,
            Transaction transaction,
            Tracker tracker,
            Collector collector,
            UnitGuard guard) {
        this.work = work;
        this.store = store;
        this.transaction = transaction;
        this.tracker = tracker;
        this.collector = collector;
        this.guard = guard;
        this.undo = new UndoLog(tracker);
    }

    void listen(UnitListener listener) {
        listeners.add(listener);
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

    /**
     * Writes all pending changes.
     *
     * @param telling whether listeners of entities are told
     */
    FlushReport flush(boolean telling) {
        int mark = undo.mark();
        Announcements announcements = new Announcements();
        FlushPlan plan;
        try {
            AlongReader along = new AlongReader(transaction, tracker, collector, work.reader(), undo, telling);
            Changes changes = announcements.before(telling, () -> {
                reading(() -> {
                    along.follow();
                    return true;
                });
                return collector.collect();
            });
            plan = Planner.plan(
                    tracker, changes, transaction.database().dialect().abilities(), true);
        } catch (RuntimeException e) {
            if (!guard.isBroken()) {
                undo.undoTo(mark);
            }
            throw e;
        }
        if (plan.isEmpty()) {
            return FlushReport.NOTHING;
        }
        Flush flush = new Flush(transaction, tracker, store.keyDrawer(transaction), plan);
        boolean savepoint = transaction.hasWritten();
        FlushReport written;
        try {
            if (savepoint) {
                transaction.savepoint();
            }
            flush.write(undo);
            written = flush.settle(undo);
            announcements.after();
            listeners.forEach(listener -> listener.flushed(work, written));
            if (savepoint) {
                transaction.releaseSavepoint();
            }
        } catch (Error e) {
            goBack(savepoint, mark, e);
            throw e;
        } catch (RuntimeException e) {
            goBack(savepoint, mark, e);
            throw explained(flush, e, savepoint);
        }
        report = report.plus(written);
        afterCommit.addAll(announcements.afterCommit());
        return written;
    }

    /**
     * Writes by statements that concern whatever rows there are.
     *
     * @param write executes them, and tells what it has written
     * @param explain says what is behind a violated foreign key
     */
    FlushReport write(Supplier<FlushReport> write, Function<ForeignKeyViolation, BathraException> explain) {
        int mark = undo.mark();
        boolean savepoint = transaction.hasWritten();
        try {
            if (savepoint) {
                transaction.savepoint();
            }
            FlushReport written = write.get();
            if (savepoint) {
                transaction.releaseSavepoint();
            }
            report = report.plus(written);
            return written;
        } catch (ForeignKeyViolation e) {
            goBack(savepoint, mark, e);
            BathraException explained = reading(() -> explain.apply(e));
            if (!savepoint) {
                transaction.rollback();
            }
            throw explained;
        } catch (RuntimeException e) {
            goBack(savepoint, mark, e);
            throw e;
        }
    }

    /** A tracked row is not there any more, or a link of it is empty. */
    void settled(Settlement settlement) {
        undo.settled(settlement);
        settlement.end();
    }

    /** A failure in words that say what is behind it, where few databases do. */
    private RuntimeException explained(Flush flush, RuntimeException failure, boolean savepoint) {
        if (guard.isBroken() || !(failure instanceof RowsMissing || failure instanceof ForeignKeyViolation)) {
            return failure;
        }
        RuntimeException explained = reading(() -> failure instanceof RowsMissing missing
                ? flush.explain(missing)
                : flush.explain((ForeignKeyViolation) failure));
        if (!savepoint) {
            transaction.rollback(); // finding out has begun another transaction, which must hold no locks
        }
        return explained;
    }

    /** Takes back what a failed flush has written so far: all of the transaction when nothing was written before. */
    private void goBack(boolean toSavepoint, int mark, Throwable cause) {
        if (cause instanceof BathraException gone && isTransactionGone(gone)) {
            breakDown(gone);
            return;
        }
        undo.undoTo(mark);
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
        flush(true);
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
        List<Runnable> toTell = new ArrayList<>(afterCommit);
        afterCommit.clear();
        listeners.forEach(listener -> toTell.add(() -> listener.committed(work, committed)));
        tellAll(toTell);
        return committed;
    }

    /** One listener's failure keeps no other from being told. */
    private static void tellAll(List<Runnable> listeners) {
        RuntimeException failure = null;
        for (Runnable listener : listeners) {
            try {
                listener.run();
            } catch (RuntimeException e) {
                if (failure == null) {
                    failure = new AfterCommitException(e);
                } else {
                    failure.addSuppressed(e);
                }
            }
        }
        if (failure != null) {
            throw failure;
        }
    }

    void rollback() {
        takeBack();
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
        transaction.close();
        takeBack();
    }

    /** Rolls back without a word. */
    void abandon() {
        transaction.close();
        takeBack();
    }

    private void takeBack() {
        boolean anything = !report.rows().isEmpty();
        undo.undo();
        report = FlushReport.NOTHING;
        afterCommit.clear();
        if (anything) {
            listeners.forEach(listener -> listener.rolledBack(work));
        }
    }
}
