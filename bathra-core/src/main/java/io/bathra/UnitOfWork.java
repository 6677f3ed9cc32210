package io.bathra;

import io.bathra.Flush.RowsMissing;
import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.Problem;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.jdbc.Transaction;
import io.bathra.model.ModelEntity;
import io.bathra.plan.FlushPlan;
import io.bathra.plan.Planner;
import io.bathra.query.Query;
import io.bathra.sql.SqlText;
import io.bathra.trace.Trace;
import io.bathra.track.Change;
import io.bathra.track.Changes;
import io.bathra.track.Collector;
import io.bathra.track.Entry;
import io.bathra.track.Entry.State;
import io.bathra.track.Tracker;
import io.bathra.track.UndoLog;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * A piece of work on the objects of a store: one object per row, changes found by comparing, one transaction at a time.
 * Short-lived, and for one thread.
 *
 * <pre>{@code
 * try (UnitOfWork work = store.begin()) {
 *     Vessel vessel = work.require(Vessel.class, 7L);
 *     work.add(new PortCall(vessel, eta));
 *     System.out.println(work.plan());
 *     work.commit();
 * }
 * }</pre>
 *
 * <p>A unit that is closed without {@code commit} rolls back. When a flush or a commit fails, the objects keep the values
 * that the user set, and their standings, keys and snapshots are those from before; mend the cause and flush again. When
 * the connection is lost the unit is broken: every call but {@code close} throws.
 */
public final class UnitOfWork implements AutoCloseable {
    private final Store store;
    private final Trace trace = new Trace();
    private final Transaction transaction;
    private final Tracker tracker;
    private final EntityReader reader;
    private final TrackedAnswers answers;
    private final Collector collector;
    private final UndoLog undo;
    private FlushReport report = FlushReport.NOTHING;
    private boolean closed;

    /** Why no call is taken any more. */
    private @Nullable BathraException broken;

    /** An error in a transaction that has written, which the database may answer by rolling back on commit. */
    private @Nullable StatementException unrecovered;

    UnitOfWork(Store store) {
        this.store = store;
        transaction = store.transaction(trace);
        CohortReader cohorts = new CohortReader(this, transaction);
        tracker = new Tracker(store.model(), cohorts);
        reader = new EntityReader(transaction, tracker);
        answers = new TrackedAnswers(this, store, transaction, cohorts);
        collector = new Collector(tracker, store.clock());
        undo = new UndoLog(tracker);
    }

    Tracker tracker() {
        return tracker;
    }

    EntityReader reader() {
        return reader;
    }

    // ---- reading

    /**
     * The entity with this key, if there is one. Asks the database only for what is not here yet.
     *
     * @param key a key of several attributes is the list of their values, a link counting as the key of its target
     *
     * @throws IllegalArgumentException when the key is of another type than the entity's
     */
    public <E> Optional<E> find(Class<E> type, Object key) {
        check();
        ModelEntity<E> entity = store.model().entity(type);
        String mismatch = entity.keyShape().mismatch(key);
        if (mismatch != null) {
            throw new IllegalArgumentException("the key of " + entity.name() + " " + mismatch);
        }
        String cause = "find " + entity.describe(key);
        Entry<?> known = tracker.entry(entity, key);
        if (known != null) {
            transaction.answeredFromMemory(cause);
            return known.state() == State.REMOVED ? Optional.empty() : Optional.of(type.cast(known.object()));
        }
        SqlText select = store.byKey(entity, key);
        return reading(() -> reader.read(cause, entity, select)).stream()
                .map(Entry::object)
                .findFirst();
    }

    /**
     * The entity with this key.
     *
     * @throws NoSuchRowException when there is none
     */
    public <E> E require(Class<E> type, Object key) {
        return find(type, key)
                .orElseThrow(() -> new NoSuchRowException(
                        type.getSimpleName() + " " + key + " is not there; use find(...) where that may be so"));
    }

    /** Begins a query. Pending changes to the tables that it reads are flushed before it is executed. */
    public <E> Query<E> from(Class<E> type) {
        check();
        store.model().entity(type);
        return Query.of(type, answers);
    }

    /** Flushes when anything is pending for one of these entities. */
    void flushChangesOf(Set<ModelEntity<?>> entities) {
        if (collector.hasChanges(entry -> entities.contains(entry.entity()))) {
            flush();
        }
    }

    /** Runs something that reads, and takes note when it fails. */
    <T> T reading(Supplier<T> read) {
        check();
        try {
            return read.get();
        } catch (StatementException e) {
            if (e instanceof ConnectionLostException) {
                breakDown(e);
            } else if (transaction.hasWritten()) {
                unrecovered = e;
            } else {
                transaction.rollback();
            }
            throw e;
        }
    }

    // ---- changing

    /**
     * Takes a new object in, and everything new that it reaches over its associations, now or until the flush. A removed
     * object is taken back.
     *
     * @throws BathraException when the object has a drawn key already, so that it cannot be new
     */
    public void add(Object entity) {
        check();
        tracker.add(entity);
    }

    /** Marks an entity for removal; a new one is merely forgotten. Rows that link to it have to go or move as well. */
    public void remove(Object entity) {
        check();
        tracker.remove(entity);
    }

    /** Where an object stands in this unit. */
    public Standing standing(Object entity) {
        check();
        Entry<?> entry = tracker.entryOf(entity);
        if (entry == null) {
            return Standing.UNTRACKED;
        }
        return switch (entry.state()) {
            case NEW -> Standing.NEW;
            case STORED -> entry.isDirty() ? Standing.DIRTY : Standing.CLEAN;
            case REMOVED -> Standing.REMOVED;
            case GONE -> Standing.UNTRACKED;
        };
    }

    /** What the next flush would write, object by object: new ones, changed attributes, removed ones. */
    public List<PendingChange> changes() {
        check();
        Changes changes = collector.collect();
        List<PendingChange> pending = new ArrayList<>();
        changes.inserts().forEach(insert -> pending.add(whole(insert.entry(), Standing.NEW)));
        for (Change.Update update : changes.updates()) {
            Entry<?> entry = update.entry();
            update.changed().stream()
                    .mapToObj(entry.entity().stored()::get)
                    .forEach(attribute -> pending.add(new PendingChange(
                            entry.domainObject(),
                            entry.toString(),
                            Standing.DIRTY,
                            attribute.name(),
                            attribute.shown(entry.before(attribute)),
                            attribute.shown(update.values()[attribute.slot()]))));
        }
        changes.deletes().forEach(delete -> pending.add(whole(delete.entry(), Standing.REMOVED)));
        return pending;
    }

    private static PendingChange whole(Entry<?> entry, Standing standing) {
        return new PendingChange(entry.domainObject(), entry.toString(), standing, null, null, null);
    }

    /** What stands in the way of a flush, for a form or a message; empty when nothing does. */
    public List<Problem> problems() {
        check();
        return Planner.problems(tracker, collector.collect());
    }

    // ---- writing

    /**
     * What a flush would do now, in order. Nothing is executed.
     *
     * @throws io.bathra.error.InvalidChangesException when the changes cannot be stored as they are
     * @throws io.bathra.error.UnorderableChangesException when no order can write them
     */
    public FlushPlan plan() {
        check();
        return Planner.plan(tracker, collector.collect()).withStatements(store::statement);
    }

    /**
     * Writes all pending changes, and brings the objects in step. The transaction stays open.
     *
     * @return how many rows this flush has written
     * @throws io.bathra.error.InvalidChangesException before anything is written
     * @throws StatementException when the database refuses; the objects are as before
     */
    public FlushReport flush() {
        check();
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
        if (cause instanceof ConnectionLostException lost) {
            breakDown(lost);
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

    /**
     * Flushes and commits. The unit can go on afterwards, in a new transaction.
     *
     * @return how many rows all flushes since the last commit have written
     */
    public FlushReport commit() {
        check();
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

    /** Rolls the transaction back. Objects keep the values that were set; standings and keys are those of its start. */
    public void rollback() {
        check();
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
        broken = cause;
        undo.undo();
        transaction.close();
    }

    // ---- the unit itself

    /** What this unit has executed so far. */
    public Trace trace() {
        return trace;
    }

    void check() {
        if (closed) {
            throw new UnitStateException("this unit of work is closed; begin another one with store.begin()", null);
        }
        if (broken != null) {
            throw new UnitStateException(
                    "this unit of work is broken, because "
                            + broken.getMessage().lines().findFirst().orElse("")
                            + "; close it, and do the work again in a new one",
                    broken);
        }
    }

    /** Rolls back what was not committed, and lets go of all objects. A second call does nothing. */
    @Override
    public void close() {
        if (!closed) {
            closed = true;
            undo.undo();
            transaction.close();
            tracker.close();
        }
    }
}
