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
import io.bathra.read.EntityReader;
import io.bathra.track.Changes;
import io.bathra.track.Collector;
import io.bathra.track.Journal;
import io.bathra.track.Tracker;
import java.util.HashMap;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * The transaction of a unit of work: what was flushed in it, how it ends, and whether the unit can go on when it fails.
 */
public final class UnitTransaction {
    private final Environment environment;
    private final Transaction transaction;
    private final boolean readOnly;
    private final Attempts attempts;
    private final Tracker tracker;
    private final Collector collector;
    private final UnitGuard guard;
    private final Journal journal;
    private final EntityReader reader;
    private final Recollection recollection;
    private final AllOrNothing writing;
    private final Places places = new Places();
    private Written report = Written.NOTHING;

    /** An error in a transaction that has written, which the database may answer by rolling back on commit. */
    private @Nullable BathraException unrecovered;

    /** The last keys that were drawn here, by what draws them. */
    private final Map<String, Long> lastKeys = new HashMap<>(0);

    private final Audience audience = new Audience();
    private final News news;

    UnitTransaction(
            Environment environment,
            Transaction transaction,
            boolean readOnly,
            Attempts attempts,
            Tracker tracker,
            Collector collector,
            UnitGuard guard,
            EntityReader reader,
            News news) {
        this.environment = environment;
        this.transaction = transaction;
        this.readOnly = readOnly;
        this.attempts = attempts;
        this.tracker = tracker;
        this.collector = collector;
        this.guard = guard;
        this.reader = reader;
        this.news = news;
        this.journal = tracker.journal();
        this.recollection = new Recollection(
                transaction,
                reader,
                guard,
                look -> reading(() -> {
                    look.run();
                    return true;
                }));
        this.writing = new AllOrNothing(this, transaction, tracker, guard, recollection);
    }

    /** Tells somebody of flushes, commits and rollbacks from now on. */
    public void tell(UnitAudience somebody) {
        audience.add(somebody);
    }

    Map<String, Long> lastKeys() {
        return lastKeys;
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
        return flush(telling, keys, false);
    }

    private Written flush(boolean telling, Flush.Keys keys, boolean committing) {
        if (readOnly || tracker.knowsNothing()) {
            return Written.NOTHING;
        }
        news.flushing(report);
        try {
            Written written = writeChanges(telling, keys, committing);
            news.flushed(report);
            return written;
        } catch (RuntimeException | Error e) {
            news.flushFailed(report, e);
            throw e;
        }
    }

    private Written writeChanges(boolean telling, Flush.Keys keys, boolean committing) {
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
        Flush flush = new Flush(environment, transaction, tracker, plan, keys, lastKeys);
        boolean last = committing && news.isSilent() && announcements.areNone() && !audience.hears();
        Written written = writing.write(
                mark,
                new AllOrNothing.Writing<Written>() {
                    @Override
                    public void together() {
                        CommitTokens.Token token =
                                last ? environment.commitTokens().token(environment, attempts) : null;
                        if (token == null) {
                            flush.write(last ? trip -> {} : null);
                        } else {
                            token.commit(transaction, () -> flush.write(token::addTo));
                        }
                    }

                    @Override
                    public void oneByOne() {
                        flush.writeOneByOne();
                    }

                    @Override
                    public Written settle() {
                        tracker.askedFor(changes);
                        Written settled = flush.settle();
                        announcements.after();
                        audience.flushed(settled);
                        return settled;
                    }
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
        Written written = writing.write(
                journal.mark(),
                delete,
                failure -> failure instanceof ForeignKeyViolation violation ? explain.apply(violation) : failure);
        report = report.plus(written);
        return written;
    }

    /** Runs something else that writes. */
    <T extends @Nullable Object> T write(Supplier<T> write) {
        return writing.write(journal.mark(), write, failure -> failure);
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

    Places places() {
        return places;
    }

    /** A failure after which nothing must be committed; null for none. */
    @Nullable
    BathraException unrecovered() {
        return unrecovered;
    }

    private void goBackTo(Place place) {
        try {
            transaction.rollbackToSavepoint("savepoint", place.savepoint());
        } catch (BathraException e) {
            breakDown(e);
            throw e;
        }
        backAt(place);
    }

    /** The transaction is at a place again: memory follows. */
    void backAt(Place place) {
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
                            + " up the whole; " + (transaction.isJoined() ? "roll back" : "call rollback()")
                            + " and do the work again",
                    unrecovered);
        }
    }

    /** Commits as the last act of a unit, which is abandoned when this fails. */
    void commitAtLast() {
        writing.isLast();
        commit();
    }

    Written commit() {
        places.refuseNested("commit()");
        refuseUnrecovered();
        flush(true, Flush.Keys.DRAWN_BEFORE, !transaction.isJoined());
        if (transaction.isJoined()) {
            return report; // the host commits, and says so
        }
        try {
            environment.commitTokens().commit(environment, transaction, attempts);
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
        return settled();
    }

    /** Everything is committed. */
    Written settled() {
        unrecovered = null;
        tracker.settled();
        places.clear();
        Written committed = report;
        report = Written.NOTHING;
        news.committed(committed);
        audience.committed(committed);
        return committed;
    }

    public void rollback() {
        places.refuseNested("rollback()");
        if (transaction.isJoined() && transaction.hasWritten()) {
            unrecovered = new UnitStateException(
                    "the transaction is the host's, who alone can roll it back: do that, and tell this unit by"
                            + " ended(ROLLED_BACK); a part of the work is taken back by a savepoint() or by work within work",
                    null);
            throw unrecovered; // again and again, since what was to be taken back shall not be committed
        }
        rollBack();
    }

    /**
     * The database first, memory second, listeners last; nothing of it is left out because something else has failed.
     */
    void rollBack() {
        unrecovered = null;
        boolean open = transaction.isOpen();
        try {
            transaction.rollback();
        } catch (BathraException e) {
            breakDown(e);
            throw e;
        }
        takeBack(open);
    }

    void breakDown(BathraException cause) {
        guard.breakDown(cause);
        if (transaction.database().isKeyDrawnTwice(cause)) {
            lastKeys.keySet().forEach(environment.keyBlocks()::suspect);
        }
        boolean open = transaction.isOpen();
        transaction.close();
        try {
            takeBack(open);
        } catch (RuntimeException e) {
            cause.addSuppressed(e);
        }
    }

    /** The transaction was rolled back as a whole, since a flush that has failed was all of it. */
    void lostAll() {
        news.rolledBack(report);
    }

    /** What was written is nobody's business any more. */
    void forget() {
        report = Written.NOTHING;
        places.clear();
        audience.forgetAfter(0);
    }

    /** Rolls back without a word; what a guest has written is left to its host. */
    void abandon() {
        boolean open = transaction.isOpen();
        transaction.close();
        if (!transaction.isJoined()) {
            takeBack(open);
        }
    }

    /** How many wait to be told that the transaction is committed. */
    int waiting() {
        return audience.waiting();
    }

    /**
     * Memory follows a transaction that is over.
     *
     * @param open whether there was one
     */
    private void takeBack(boolean open) {
        if (open) {
            news.rolledBack(report);
        }
        boolean anything = !report.isNothing();
        forget();
        if (journal.isOn() && !transaction.isJoined()) { // nothing is to be taken back in most units
            recollection.after(tracker::rolledBack, null);
        } else if (journal.isOn()) {
            tracker.rolledBack(); // what only the database knows is not asked on a connection that may be anybody's now
        }
        if (anything) {
            audience.rolledBack();
        }
    }
}
