package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.flush.Places.Place;
import io.bathra.jdbc.Transaction;
import io.bathra.plan.Plan;
import io.bathra.plan.Planner;
import io.bathra.read.Causes;
import io.bathra.read.EntityReader;
import io.bathra.track.Changes;
import io.bathra.track.Collector;
import io.bathra.track.Journal;
import io.bathra.track.Tracker;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * The transaction of a unit of work: what was flushed in it, how it ends, and whether the unit can go on when it fails.
 */
public final class UnitTransaction {
    private final Environment environment;
    private final Transaction transaction;
    private final boolean readOnly;
    private final boolean retrying;
    private final Tracker tracker;
    private final Collector collector;
    private final UnitGuard guard;
    private final Journal journal;
    private final EntityReader reader;
    private final Recollection recollection;
    private final Places places = new Places();
    private Written report = Written.NOTHING;

    /** An error in a transaction that has written, which the database may answer by rolling back on commit. */
    private @Nullable StatementException unrecovered;

    private final Audience audience = new Audience();

    UnitTransaction(
            Environment environment,
            Transaction transaction,
            boolean readOnly,
            boolean retrying,
            Tracker tracker,
            Collector collector,
            UnitGuard guard,
            EntityReader reader) {
        this.environment = environment;
        this.transaction = transaction;
        this.readOnly = readOnly;
        this.retrying = retrying;
        this.tracker = tracker;
        this.collector = collector;
        this.guard = guard;
        this.reader = reader;
        this.journal = tracker.journal();
        this.recollection = new Recollection(
                transaction,
                reader,
                guard,
                look -> reading(() -> {
                    look.run();
                    return true;
                }));
    }

    /** Tells somebody of flushes, commits and rollbacks from now on. */
    public void tell(UnitAudience somebody) {
        audience.add(somebody);
    }

    Written written() { // since the last commit
        return report;
    }

    /** Runs something that reads, and takes note when it fails. */
    <T extends @Nullable Object> T reading(Supplier<T> read) {
        try {
            return guard.alone(read);
        } catch (StatementException e) {
            if (e.isTransactionGone()) {
                breakDown(e);
            } else if (!transaction.hasWork()) {
                transaction.rollback();
            } else if (!transaction.hasRecovered(e)) {
                unrecovered = e;
            }
            throw e;
        }
    }

    /**
     * Writes all pending changes.
     *
     * @param telling whether listeners of entities are told
     * @param keys where the keys of new rows come from
     */
    Written flush(boolean telling, Flush.Keys keys) {
        if (readOnly) {
            return Written.NOTHING;
        }
        boolean first = !journal.isOn();
        Journal.Mark mark = journal.mark();
        Announcements announcements = new Announcements();
        Changes changes;
        Plan plan;
        try {
            AlongReader along = new AlongReader(transaction, tracker, collector, reader, telling);
            changes = announcements.before(telling, () -> {
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
                recollection.after(() -> tracker.backTo(mark), e);
                forgetJournal(first);
            }
            throw e;
        }
        if (plan.isEmpty()) {
            forgetJournal(first);
            return Written.NOTHING;
        }
        Flush flush = new Flush(transaction, tracker, environment.keyDrawer(transaction, Causes.FLUSH), plan, keys);
        Written written = takingBack(
                mark,
                () -> {
                    flush.write();
                    tracker.askedFor(changes);
                    Written settled = flush.settle();
                    announcements.after();
                    audience.flushed(settled);
                    return settled;
                },
                flush::explain);
        report = report.plus(written);
        audience.tellAfterCommit(announcements.afterCommit());
        return written;
    }

    /** Nothing was written, so there is nothing to go back to. */
    private void forgetJournal(boolean first) {
        if (first) {
            journal.end();
        }
    }

    /** Deletes by statements that concern whatever rows there are. */
    Written delete(Supplier<Written> delete, Function<ForeignKeyViolation, BathraException> explain) {
        Written written = takingBack(
                journal.mark(),
                delete,
                failure -> failure instanceof ForeignKeyViolation violation ? explain.apply(violation) : failure);
        report = report.plus(written);
        return written;
    }

    /** Runs something else that writes. */
    <T extends @Nullable Object> T write(Supplier<T> write) {
        return takingBack(journal.mark(), write, failure -> failure);
    }

    /**
     * Writes, and takes all of it back when it fails.
     *
     * @param mark what is to be taken back in memory
     * @param explain says what is behind a failure; it may ask the database
     */
    private <T extends @Nullable Object> T takingBack(
            Journal.Mark mark, Supplier<T> write, UnaryOperator<RuntimeException> explain) {
        int savepoint = reading(this::savepoint);
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
            throw guard.isBroken() ? Flush.unexplained(e) : explained(savepoint, e, explain);
        }
    }

    private RuntimeException explained(
            int savepoint, RuntimeException failure, UnaryOperator<RuntimeException> explain) {
        RuntimeException explained;
        try {
            explained = reading(() -> explain.apply(failure));
            if (savepoint == 0) {
                transaction.rollback(); // finding out may have begun another transaction, which must hold no locks
            }
        } catch (BathraException e) {
            explained = Flush.unexplained(failure);
            explained.addSuppressed(e);
        }
        return explained;
    }

    /** Changes what is pending, and flushes; when that fails, or is rolled back, the changes are taken back as well. */
    void takenBackOnFailure(Runnable change) {
        Journal.Mark mark = journal.mark();
        try {
            change.run();
        } catch (RuntimeException e) {
            if (!guard.isBroken()) {
                recollection.after(() -> tracker.backTo(mark), e);
            }
            throw e;
        }
    }

    /** Marks the place that a failed flush goes back to; 0 when that is the start of the transaction. */
    private int savepoint() {
        return transaction.hasWork() ? transaction.savepoint("flush") : 0;
    }

    // ---- places to go back to

    /** Flushes, and marks the place that has been reached. */
    Place mark() {
        flush(true, Flush.Keys.DRAWN_BEFORE);
        refuseUnrecovered();
        return places.add(transaction.savepoint("savepoint"), journal.mark(), report, audience.waiting());
    }

    /** Goes back to a place that was marked in the same piece of work. */
    public void backTo(Place place) {
        places.require(place);
        goBackTo(place);
    }

    private void goBackTo(Place place) {
        try {
            transaction.rollbackToSavepoint("savepoint", place.savepoint());
        } catch (BathraException e) {
            breakDown(e);
            throw e;
        }
        places.backAt(place);
        report = place.written();
        audience.forgetAfter(place.told());
        unrecovered = null;
        recollection.after(() -> tracker.backToPlace(place.mark()), null);
    }

    /** Does a piece of work that is taken back alone when it fails. */
    public <T extends @Nullable Object, X extends Exception> T nested(Attempts.Work<T, X> task) throws X {
        Place place = guard.alone(this::mark);
        Place outer = places.beginWork(place);
        try {
            T answer = task.apply();
            guard.alone(() -> flush(true, Flush.Keys.DRAWN_BEFORE));
            refuseUnrecovered();
            leave(place);
            return answer;
        } catch (Throwable e) {
            try {
                if (!guard.isBroken() && !guard.isClosed()) {
                    goBackTo(place);
                    leave(place);
                }
            } catch (RuntimeException again) {
                e.addSuppressed(again);
            }
            throw e;
        } finally {
            places.endWork(outer);
        }
    }

    private void leave(Place place) {
        transaction.releaseSavepoint("savepoint", place.savepoint());
        places.leave(place);
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
    private void goBack(int savepoint, Journal.Mark mark, Throwable cause) {
        if (cause instanceof StatementException gone && gone.isTransactionGone()) {
            breakDown(gone);
            return;
        }
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
            return;
        }
        recollection.after(() -> savepoint > 0 ? tracker.backTo(mark) : tracker.rolledBack(), cause);
    }

    Written commit() {
        places.refuseNested("commit()");
        refuseUnrecovered();
        flush(true, Flush.Keys.DRAWN_BEFORE);
        if (transaction.isJoined() && audience.waitsForCommit()) {
            throw new UnitStateException(
                    "a listener wants to be told after the commit, but the transaction is somebody else's, so nobody here would"
                            + " know; do such work in a unit of its own, or where the transaction is committed",
                    null);
        }
        try {
            environment.commitTokens().commit(environment, transaction, retrying);
        } catch (CommitUnknownException | ConnectionLostException e) {
            breakDown(e);
            throw e;
        } catch (BathraException e) {
            try {
                rollBack();
            } catch (RuntimeException again) {
                e.addSuppressed(again);
            }
            throw e;
        }
        tracker.settled();
        places.clear();
        Written committed = report;
        report = Written.NOTHING;
        audience.committed(committed);
        return committed;
    }

    public void rollback() {
        places.refuseNested("rollback()");
        rollBack();
    }

    /**
     * The database first, memory second, listeners last; nothing of it is left out because something else has failed.
     */
    private void rollBack() {
        unrecovered = null;
        try {
            transaction.rollback();
        } catch (BathraException e) {
            breakDown(e);
            throw e;
        }
        takeBack();
    }

    private void breakDown(BathraException cause) {
        guard.breakDown(cause);
        transaction.close();
        try {
            takeBack();
        } catch (RuntimeException e) {
            cause.addSuppressed(e);
        }
    }

    /** Rolls back without a word. */
    void abandon() {
        transaction.close();
        takeBack();
    }

    private void takeBack() {
        boolean anything = !report.rows().isEmpty();
        report = Written.NOTHING;
        places.clear();
        audience.forgetAfter(0);
        recollection.after(tracker::rolledBack, null);
        if (anything) {
            audience.rolledBack();
        }
    }
}
