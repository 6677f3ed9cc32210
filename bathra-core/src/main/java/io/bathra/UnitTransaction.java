package io.bathra;

import io.bathra.Flush.RowsMissing;
import io.bathra.error.AfterCommitException;
import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
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
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** The transaction of a unit of work: what was flushed in it, how it ends, and whether the unit can go on when it fails. */
final class UnitTransaction {
    private final Store store;
    private final Transaction transaction;
    private final Terms terms;
    private final Tracker tracker;
    private final Collector collector;
    private final UnitGuard guard;
    private final UndoLog undo;
    private FlushReport report = FlushReport.NOTHING;

    /** The last savepoint; null for none. */
    private @Nullable Place last;

    /** Where the innermost piece of work within this one began; null for none. */
    private @Nullable Place floor;

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
            Terms terms,
            Tracker tracker,
            Collector collector,
            UnitGuard guard) {
        this.work = work;
        this.store = store;
        this.transaction = transaction;
        this.terms = terms;
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
    <T extends @Nullable Object> T reading(Supplier<T> read) {
        try {
            return guard.alone(read);
        } catch (StatementException e) {
            if (isTransactionGone(e)) {
                breakDown(e);
            } else if (transaction.hasWritten() || transaction.isJoined() || transaction.savepoints() > 0) {
                unrecovered = e;
            } else {
                transaction.rollback();
            }
            throw e;
        }
    }

    private static boolean isTransactionGone(RuntimeException e) {
        return e instanceof StatementException statement && statement.isTransactionGone();
    }

    private FlushReport flush() {
        return flush(true, Flush.Keys.DRAWN_BEFORE);
    }

    /**
     * Writes all pending changes.
     *
     * @param telling whether listeners of entities are told
     * @param keys where the keys of new rows come from
     */
    FlushReport flush(boolean telling, Flush.Keys keys) {
        if (terms.isReadOnly()) {
            return FlushReport.NOTHING;
        }
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
        Flush flush = new Flush(transaction, tracker, store.keyDrawer(transaction, Causes.FLUSH), plan, keys);
        FlushReport written = takingBack(
                mark,
                () -> {
                    flush.write(undo);
                    FlushReport settled = flush.settle(undo);
                    announcements.after();
                    listeners.forEach(listener -> listener.flushed(work, settled));
                    return settled;
                },
                failure -> explained(flush, failure));
        report = report.plus(written);
        afterCommit.addAll(announcements.afterCommit());
        return written;
    }

    /** A failure in words that say what is behind it, where few databases do. */
    private static RuntimeException explained(Flush flush, RuntimeException failure) {
        return failure instanceof RowsMissing missing
                ? flush.explain(missing)
                : failure instanceof ForeignKeyViolation violation ? flush.explain(violation) : failure;
    }

    /** Deletes by statements that concern whatever rows there are. */
    FlushReport delete(Supplier<FlushReport> delete, Function<ForeignKeyViolation, BathraException> explain) {
        FlushReport written = takingBack(
                undo.mark(),
                delete,
                failure -> failure instanceof ForeignKeyViolation violation ? explain.apply(violation) : failure);
        report = report.plus(written);
        return written;
    }

    /** Runs something else that writes. */
    <T extends @Nullable Object> T write(Supplier<T> write) {
        return takingBack(undo.mark(), write, failure -> failure);
    }

    /**
     * Writes, and takes all of it back when it fails.
     *
     * @param mark what is to be taken back in memory
     * @param explain says what is behind a failure; it may ask the database
     */
    private <T extends @Nullable Object> T takingBack(
            int mark, Supplier<T> write, UnaryOperator<RuntimeException> explain) {
        int savepoint = savepoint();
        try {
            T written = guard.alone(write);
            if (savepoint > 0) {
                transaction.releaseSavepoint("flush", savepoint);
            }
            return written;
        } catch (Error e) {
            goBack(savepoint, mark, e);
            throw e;
        } catch (RuntimeException e) {
            goBack(savepoint, mark, e);
            if (guard.isBroken()) {
                throw e;
            }
            RuntimeException explained = reading(() -> explain.apply(e));
            if (savepoint == 0) {
                transaction.rollback(); // finding out may have begun another transaction, which must hold no locks
            }
            throw explained;
        }
    }

    /** Changes what is pending, and flushes; when that fails, or is rolled back, the changes are taken back as well. */
    void takenBackOnFailure(Consumer<UndoLog> change) {
        int mark = undo.mark();
        try {
            change.accept(undo);
        } catch (RuntimeException e) {
            if (!guard.isBroken()) {
                undo.undoTo(mark);
            }
            throw e;
        }
    }

    /** A tracked row is not there any more, or a link of it is empty. */
    void settled(Settlement settlement) {
        undo.settled(settlement);
        settlement.end();
    }

    /** Marks the place that a failed flush goes back to; 0 when that is the start of the transaction. */
    private int savepoint() {
        return transaction.hasWritten() || transaction.isJoined() || transaction.savepoints() > 0
                ? transaction.savepoint("flush")
                : 0;
    }

    // ---- places to go back to

    /** A place in the transaction, and what the unit was there. */
    static final class Place {
        private final int savepoint;
        private final int mark;
        private final FlushReport report;
        private final int told;
        private final @Nullable Place before;

        private Place(int savepoint, int mark, FlushReport report, int told, @Nullable Place before) {
            this.savepoint = savepoint;
            this.mark = mark;
            this.report = report;
            this.told = told;
            this.before = before;
        }
    }

    /** Flushes, and marks the place that has been reached. */
    Place mark() {
        flush();
        refuseUnrecovered();
        last = new Place(transaction.savepoint("savepoint"), undo.mark(), report, afterCommit.size(), last);
        return last;
    }

    /** Goes back to a place that was marked in the same piece of work. */
    void backTo(Place place) {
        Place known = last;
        while (known != null && known != place && known != floor) {
            known = known.before;
        }
        if (known == null) {
            throw new UnitStateException(
                    "the savepoint is gone: the transaction has ended since, or has gone back further; set another one",
                    null);
        }
        if (known == floor) {
            throw new UnitStateException(
                    "the savepoint was set outside of this piece of work, or is gone; throw to take the piece of work back",
                    null);
        }
        goBackTo(place);
    }

    private void goBackTo(Place place) {
        try {
            transaction.rollbackToSavepoint("savepoint", place.savepoint);
        } catch (BathraException e) {
            breakDown(e);
            throw e;
        }
        last = place;
        undo.undoTo(place.mark);
        report = place.report;
        afterCommit.subList(place.told, afterCommit.size()).clear();
        unrecovered = null;
    }

    /** Does a piece of work that is taken back alone when it fails. */
    <T extends @Nullable Object, X extends Exception> T nested(Store.Work<T, X> task) throws X {
        Place outer = floor;
        Place place = guard.alone(this::mark);
        floor = place;
        try {
            T answer = task.apply(work);
            guard.alone(() -> flush());
            refuseUnrecovered();
            leave(place);
            return answer;
        } catch (Throwable e) {
            try {
                if (!guard.isBroken() && !guard.isClosed()) {
                    goBackTo(place);
                    leave(place);
                }
            } catch (BathraException again) {
                e.addSuppressed(again);
            }
            throw e;
        } finally {
            floor = outer;
        }
    }

    private void leave(Place place) {
        transaction.releaseSavepoint("savepoint", place.savepoint);
        last = place.before;
    }

    private void refuseNested(String what) {
        if (floor != null) {
            throw new UnitStateException(
                    what
                            + " is the business of the outermost piece of work; here, return to keep what was done, or throw to"
                            + " take it back",
                    null);
        }
    }

    private void refuseUnrecovered() {
        if (unrecovered != null) {
            throw new UnitStateException(
                    "nothing was committed: a statement of this transaction has failed and the database may have given"
                            + " up the whole; call rollback() and do the work again",
                    unrecovered);
        }
    }

    /** Takes back what a failed flush has written so far: all of the transaction when nothing was written before. */
    private void goBack(int savepoint, int mark, Throwable cause) {
        if (cause instanceof BathraException gone && isTransactionGone(gone)) {
            breakDown(gone);
            return;
        }
        undo.undoTo(mark);
        try {
            if (savepoint > 0) {
                transaction.rollbackToSavepoint("flush", savepoint);
                transaction.releaseSavepoint("flush", savepoint);
            } else {
                transaction.rollback();
            }
        } catch (BathraException e) {
            cause.addSuppressed(e);
            breakDown(e);
        }
    }

    FlushReport commit() {
        refuseNested("commit()");
        refuseUnrecovered();
        flush();
        if (transaction.isJoined() && !afterCommit.isEmpty()) {
            throw new UnitStateException(
                    "a listener wants to be told after the commit, but the transaction is somebody else's, so nobody here would"
                            + " know; do such work in a unit of its own, or where the transaction is committed",
                    null);
        }
        try {
            store.commitTokens().commit(transaction, terms);
        } catch (CommitUnknownException | ConnectionLostException e) {
            breakDown(e);
            throw e;
        } catch (BathraException e) {
            try {
                rollBack();
            } catch (BathraException again) {
                e.addSuppressed(again);
            }
            throw e;
        }
        undo.forget();
        last = null;
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
        refuseNested("rollback()");
        rollBack();
    }

    private void rollBack() {
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
        last = null;
        afterCommit.clear();
        if (anything) {
            listeners.forEach(listener -> listener.rolledBack(work));
        }
    }
}
