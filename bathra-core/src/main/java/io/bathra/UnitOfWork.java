package io.bathra;

import io.bathra.bulk.Bulk;
import io.bathra.bulk.On;
import io.bathra.error.BathraException;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.NotExactlyOneException;
import io.bathra.error.Problem;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.model.ColumnAttribute;
import io.bathra.model.ModelEntity;
import io.bathra.plan.FlushPlan;
import io.bathra.plan.Planner;
import io.bathra.query.Condition;
import io.bathra.query.Pending;
import io.bathra.query.Query;
import io.bathra.query.Sql;
import io.bathra.sql.SelectWriter;
import io.bathra.sql.SqlText;
import io.bathra.trace.Cause;
import io.bathra.trace.Trace;
import io.bathra.track.Changes;
import io.bathra.track.Collector;
import io.bathra.track.Entry;
import io.bathra.track.Entry.State;
import io.bathra.track.Resetter;
import io.bathra.track.Tracker;
import java.sql.Connection;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.stream.Collectors;
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
    /** So many pending changes are named in a message. */
    private static final int MOST_NAMED = 5;

    private final Store store;
    private final boolean readOnly;
    private final Trace trace = new Trace();
    private final Transaction transaction;
    private final Tracker tracker;
    private final EntityReader reader;
    private final QueryAnswers answers;
    private final Collector collector;
    private final UnitTransaction writes;
    private final UnitGuard guard;
    private final Outsiders outsiders;
    private Pending pending = Pending.FLUSH;

    UnitOfWork(Store store, Terms terms, @Nullable Connection joined) {
        this.store = store;
        readOnly = terms.isReadOnly();
        Transaction own = store.transaction(trace, terms);
        transaction = joined == null ? own : own.within(joined);
        ReadSide side = new ReadSide(
                store.model(),
                transaction,
                new ReadSide.Guard() {
                    @Override
                    public <T extends @Nullable Object> T reading(Supplier<T> read) {
                        return UnitOfWork.this.reading(read);
                    }
                },
                readOnly);
        tracker = side.tracker();
        reader = side.reader();
        answers = new QueryAnswers(this, store, side);
        collector = new Collector(tracker, store.clock());
        outsiders = new Outsiders(tracker, transaction, reader);
        guard = new UnitGuard(store.limits(), () -> tracker.entries().size());
        writes = new UnitTransaction(this, store, transaction, terms, tracker, collector, guard);
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
        ModelEntity<E> entity = entity(type, key);
        Cause cause = Causes.find(entity, key);
        Entry<?> known = tracker.entry(entity, key);
        if (known != null) {
            transaction.answeredFromMemory(cause);
            return known.state() == State.REMOVED ? Optional.empty() : Optional.of(type.cast(known.object()));
        }
        SqlText select = store.queries().byKey(entity, key);
        List<Entry<E>> read = reading(() -> reader.read(cause, entity, select));
        return read.isEmpty() || read.get(0).state() == State.REMOVED
                ? Optional.empty()
                : Optional.of(read.get(0).object());
    }

    /** The entity of a class, after a look at the key that is asked for. */
    private <E> ModelEntity<E> entity(Class<E> type, Object key) {
        ModelEntity<E> entity = store.model().entity(type);
        String mismatch = entity.keyShape().mismatch(key);
        if (mismatch != null) {
            throw new IllegalArgumentException("the key of " + entity.name() + " " + mismatch);
        }
        return entity;
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

    /**
     * The entities with these keys, as far as they are there, in the order of the keys. Asks the database only for what is not
     * here yet, with as few statements as the number allows.
     *
     * @throws IllegalArgumentException when a key is of another type than the entity's
     */
    public <E> List<E> findAll(Class<E> type, Collection<?> keys) {
        check();
        ModelEntity<E> entity = store.model().entity(type);
        Set<Object> unknown = new LinkedHashSet<>();
        for (Object key : keys) {
            entity(type, key);
            if (tracker.entry(entity, key) == null) {
                unknown.add(key);
            }
        }
        String cause = "find " + keys.size() + " of " + entity.name();
        if (unknown.isEmpty()) {
            transaction.answeredFromMemory(cause);
        }
        for (List<Object> some : KeyedRows.chunks(unknown, entity.keyColumns().size())) {
            reading(() -> reader.read(
                    cause,
                    entity,
                    SelectWriter.rowsWith(store.dialect(), entity, entity.keyColumns(), entity.keyShape(), some)));
        }
        List<E> found = new ArrayList<>();
        for (Object key : keys) {
            Entry<?> entry = tracker.entry(entity, key);
            if (entry != null && entry.state() != State.REMOVED) {
                found.add(type.cast(entry.object()));
            }
        }
        return found;
    }

    /** Begins a query. Pending changes to the tables that it reads are flushed before it is executed. */
    public <E> Query<E> from(Class<E> type) {
        check();
        store.model().entity(type);
        return Query.of(type, answers);
    }

    /**
     * A statement in plain SQL with named parameters, in this unit's transaction. What is pending is flushed before it is
     * executed; when it writes, tracked objects of the tables that it names are brought up to date, or dropped when their
     * rows are gone. Listeners hear nothing of it.
     *
     * <pre>{@code
     * List<Vessel> large = work.sql("select * from vessel where length > :metres").with("metres", 300).as(Vessel.class).list();
     * }</pre>
     */
    public SqlCall<Map<String, @Nullable Object>> sql(String text) {
        return sql(Sql.of(text));
    }

    /** A statement in plain SQL that was made before, in this unit's transaction. */
    public <R> SqlCall<R> sql(Sql<R> statement) {
        check();
        return new SqlCall<>(new UnitLevel(this, store, transaction), statement);
    }

    /**
     * Says how queries of this unit treat pending changes from now on, where they do not say so themselves. At first they are
     * flushed.
     */
    public void pending(Pending treatment) {
        check();
        pending = Objects.requireNonNull(treatment, "treatment");
    }

    Pending pending() {
        return pending;
    }

    /** What a query that reads some tables sees of pending changes; null for nothing. */
    @Nullable
    Overlaid overlaid(Set<ModelEntity<?>> reads) {
        return readOnly ? null : reading(() -> PendingRows.of(tracker, transaction, collector.collect(), reads));
    }

    /** Flushes when anything is pending for one of these entities. */
    void flushChangesOf(Set<ModelEntity<?>> entities) {
        if (!readOnly && collector.hasChanges(entry -> entities.contains(entry.entity()))) {
            flush();
        }
    }

    /** Writes all pending changes; listeners are told unless they are bypassed. */
    FlushReport flush(boolean telling) {
        check();
        return guard.alone(() -> writes.flush(telling, Flush.Keys.DRAWN_BEFORE));
    }

    /** Writes all pending changes; says where the keys of new rows come from. */
    FlushReport flush(Flush.Keys keys) {
        check();
        return guard.alone(() -> writes.flush(true, keys));
    }

    /** The value of a stamp that is set now. */
    Object stampOfNow(ColumnAttribute stamp) {
        return collector.stampOfNow(stamp);
    }

    UnitTransaction writes() {
        return writes;
    }

    /** Runs something that reads, and takes note when it fails. */
    <T extends @Nullable Object> T reading(Supplier<T> read) {
        return writes.reading(read);
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
        refuseWriting("a new object is added");
        tracker.add(entity);
    }

    /**
     * A handle to a row, which is not read: what it is told is written by the next flush, for which a missing row is an
     * error. Once the row has been read, the handle speaks of the entity.
     *
     * @throws IllegalArgumentException when the key is of another type than the entity's
     */
    public <E> Row<E> row(Class<E> type, Object key) {
        check();
        refuseWriting("a handle to a row is for writing");
        return new Row<>(this, entity(type, key), key);
    }

    /** Marks an entity for removal; a new one is merely forgotten. Rows that link to it have to go or move as well. */
    public void remove(Object entity) {
        check();
        refuseWriting("an object is removed");
        tracker.remove(entity);
    }

    /**
     * Tracks an object that was read elsewhere and edited since: its row is read now, and what differs is changed.
     *
     * @throws io.bathra.error.ConcurrentChangeException when the row has another version than the object
     * @throws BathraException when this unit knows the row as another object
     * @throws NoSuchRowException when the row is gone
     */
    public <E> E adopt(E entity) {
        return adopt(entity, outsiders::adopt);
    }

    /**
     * Tracks an object that was read elsewhere and edited since, and trusts its version: its row is not read, and all of its
     * columns are written when it has that version still. Collections of parts are read, to write the difference.
     *
     * @throws BathraException when the entity has no version, or this unit knows the row as another object
     */
    public <E> E adoptUnread(E entity) {
        return adopt(entity, outsiders::adoptUnread);
    }

    private <E> E adopt(E entity, BiConsumer<ModelEntity<E>, E> how) {
        check();
        refuseWriting("an object is adopted to be stored");
        @SuppressWarnings("unchecked") // an object's class is a class of its type
        ModelEntity<E> known = (ModelEntity<E>) store.model().entity((Class<? extends E>) entity.getClass());
        if (tracker.entryOf(entity) == null) {
            reading(() -> {
                how.accept(known, entity);
                return null;
            });
        }
        return entity;
    }

    /**
     * Gives an entity the values of a form: each component of the record goes to the attribute of its name.
     *
     * @param expectedVersion the version that the form has shown; null to take whatever is there
     * @throws io.bathra.error.ConcurrentChangeException when the entity has another version by now
     */
    public <E> E carry(Record values, E entity, @Nullable Number expectedVersion) {
        outsiders.carry(values, tracked(entity), expectedVersion);
        return entity;
    }

    /**
     * The entity that fulfils a condition on its natural key, or a new one, which is flushed at once. When somebody else
     * was faster, theirs.
     *
     * @param naturalKey a condition on attributes that are unique
     * @param maker makes the new one
     * @throws NotExactlyOneException when several fulfil it
     */
    public <E> E findOrAdd(Class<E> type, Condition<? super E> naturalKey, Supplier<? extends E> maker) {
        return finder().one(type, naturalKey, false, maker, entity -> {});
    }

    /**
     * The entity that fulfils a condition on its natural key, or a new one; either is changed, and flushed at once. The row of one
     * that is there is held until the end of the transaction, so nobody changes it at the same time.
     *
     * <pre>{@code
     * Vessel vessel = work.changeOrAdd(
     *     Vessel.class, the(Vessel::imo).is(imo), () -> new Vessel(imo, name), found -> found.rename(name));
     * }</pre>
     *
     * @param naturalKey a condition on attributes that are unique
     * @param maker makes the new one
     * @param change what is done to either; done once more, to the other one, when somebody else was faster
     * @throws NotExactlyOneException when several fulfil it
     */
    public <E> E changeOrAdd(
            Class<E> type, Condition<? super E> naturalKey, Supplier<? extends E> maker, Consumer<? super E> change) {
        E entity = finder().one(type, naturalKey, true, maker, change);
        flush();
        return entity;
    }

    /**
     * For each candidate, in order, the entity that is there with the same unique values, or the candidate itself, which is flushed
     * at once. By one statement when all are there, else by two, as far as one statement takes so many. When somebody else was faster,
     * theirs are found.
     *
     * <pre>{@code
     * List<Vessel> vessels = work.findOrAddAll(
     *     Vessel.class, on(Vessel::imo), imos.stream().map(imo -> new Vessel(imo, "unknown")).toList());
     * }</pre>
     *
     * @param on the attributes of a unique constraint, in which each candidate has values
     * @throws BathraException when there is no such constraint, or a candidate has no value
     */
    public <E> List<E> findOrAddAll(Class<E> type, On<? super E> on, Collection<? extends E> candidates) {
        FindOrAdd finder = finder();
        ModelEntity<E> entity = store.model().entity(type);
        return finder.all(entity, on.keyOf(entity), candidates);
    }

    private FindOrAdd finder() {
        check();
        refuseWriting("what is missing is added");
        return new FindOrAdd(this, transaction);
    }

    /**
     * Stores rows of one entity in any number, without tracking, in this unit's transaction. What is pending for the tables
     * concerned is flushed before; tracked objects of the table are brought up to date afterwards.
     */
    public <E> Bulk<E, E> bulk(Class<E> type) {
        check();
        store.model().entity(type);
        return Bulk.of(new UnitBulk(this, store, transaction), type);
    }

    private Entry<?> tracked(Object entity) {
        check();
        Entry<?> entry = tracker.entryOf(entity);
        if (entry == null) {
            throw new BathraException("an object of " + entity.getClass().getSimpleName()
                    + " is not known to this unit of work; read it here, or adopt it");
        }
        return entry;
    }

    /** How many objects of each entity this unit tracks, by the entities' names. */
    public Map<String, Integer> tracked() {
        check();
        Map<String, Integer> tracked = new TreeMap<>();
        tracker.entries().forEach(entry -> tracked.merge(entry.entity().name(), 1, Integer::sum));
        return tracked;
    }

    /**
     * Stops to track an entity.
     *
     * @throws UnitStateException when it has pending changes, which it names; discard or flush them first
     */
    public void forget(Object entity) {
        Entry<?> entry = tracked(entity);
        refusePending(
                changes().stream().filter(change -> change.entity() == entity).toList());
        tracker.release(entry);
    }

    /**
     * Stops to track all entities.
     *
     * @throws UnitStateException when there are pending changes, which it names; discard or flush them first
     */
    public void forgetAll() {
        refusePending(changes());
        tracker.releaseAll();
    }

    private static void refusePending(List<PendingChange> pending) {
        if (!pending.isEmpty()) {
            throw new UnitStateException(
                    "there are " + pending.size() + " pending changes, which would be lost: "
                            + pending.stream()
                                    .limit(MOST_NAMED)
                                    .map(PendingChange::toString)
                                    .collect(Collectors.joining(", "))
                            + (pending.size() > MOST_NAMED ? ", ..." : "")
                            + "; flush them, or throw them away with discard(...)",
                    null);
        }
    }

    /** Throws the pending changes of an entity away: it has the values of its row again, and a new one is forgotten. */
    public void discard(Object entity) {
        Entry<?> entry = tracked(entity);
        if (readOnly) {
            throw new UnitStateException(
                    "this unit of work is read-only and remembers no rows, so nobody knows what has changed; refresh(...)"
                            + " reads the row",
                    null);
        }
        if (entry.state() == Entry.State.NEW) {
            tracker.remove(entity);
            return;
        }
        if (entry.isUnread()) {
            throw new UnitStateException(
                    entry
                            + " was adopted without a look at its row, so nobody knows what it was; refresh(...) reads it",
                    null);
        }
        new Resetter(tracker).reset(entry, Objects.requireNonNull(entry.snapshot()));
    }

    /** Throws all pending changes away. Many-to-many associations are read anew when they are visited. */
    public void discard() {
        check();
        tracker.loose().clear();
        for (Entry<?> entry : List.copyOf(tracker.entries())) {
            if (entry.state() == Entry.State.NEW || entry.state() == Entry.State.REMOVED || entry.isDirty()) {
                discard(entry.object());
            }
        }
        Resetter resetter = new Resetter(tracker);
        tracker.entries().forEach(resetter::readPairsAgain); // those that both ends have changed are nobody's alone
    }

    /**
     * Reads the row of an entity again, and gives the entity its values; pending changes of it are lost.
     *
     * @throws NoSuchRowException when the row is gone
     */
    public void refresh(Object entity) {
        Entry<?> entry = tracked(entity);
        if (entry.state() == Entry.State.NEW) {
            throw new BathraException(entry + " is new, so there is no row to read");
        }
        reading(() -> {
            outsiders.refresh(entry);
            return null;
        });
    }

    /**
     * Carries on after a {@link io.bathra.error.ConcurrentChangeException}: reads the rows of all changed entities again, and
     * takes over what others have changed, where this unit has changed other attributes.
     *
     * @throws io.bathra.error.ConcurrentChangeException with what both have changed, and rows that are gone
     */
    public void rebase() {
        check();
        List<Entry<?>> pending = tracker.entries().stream()
                .filter(entry ->
                        entry.state() == Entry.State.REMOVED || entry.state() == Entry.State.STORED && entry.isDirty())
                .toList();
        reading(() -> {
            outsiders.rebase(pending);
            return null;
        });
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
            case STORED ->
                Collector.isOrphan(entry) ? Standing.REMOVED : entry.isDirty() ? Standing.DIRTY : Standing.CLEAN;
            case REMOVED -> Standing.REMOVED;
            case LOOSE, GONE -> Standing.UNTRACKED;
        };
    }

    /** What the next flush would write, object by object: new ones, changed attributes, removed ones. */
    public List<PendingChange> changes() {
        check();
        return PendingChange.of(collector.collect());
    }

    /**
     * What stands in the way of a flush, for a form or a message; empty when nothing does. The database is asked which unique
     * values are taken by rows that this unit does not know.
     */
    public List<Problem> problems() {
        check();
        Changes changes = collector.collect();
        List<Problem> problems = new ArrayList<>(Planner.problems(tracker, changes));
        if (problems.isEmpty() && !changes.isEmpty()) {
            reading(() -> problems.addAll(new TakenValues(transaction, tracker).problems(changes)));
        }
        return problems;
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
        return Planner.plan(
                        tracker,
                        collector.collect(),
                        transaction.database().dialect().abilities(),
                        false)
                .withStatements(store::statement);
    }

    /**
     * Writes all pending changes, and brings the objects in step. The transaction stays open.
     *
     * @return how many rows this flush has written
     * @throws io.bathra.error.InvalidChangesException before anything is written
     * @throws StatementException when the database refuses; the objects are as before
     */
    public FlushReport flush() {
        return flush(true);
    }

    /**
     * Flushes and commits. The unit can go on afterwards, in a new transaction.
     *
     * @return how many rows all flushes since the last commit have written
     */
    public FlushReport commit() {
        return guard.alone(writes::commit);
    }

    /** What writes, or is about to, has no place in a unit that only reads. */
    void refuseWriting(String what) {
        if (readOnly) {
            throw new UnitStateException(
                    what + ", but this unit of work is read-only; begin another one without readOnly()", null);
        }
    }

    /**
     * Flushes, and marks a place in the transaction to which it can go back.
     *
     * @throws StatementException when the database refuses what was pending
     */
    public Savepoint savepoint() {
        check();
        return new Savepoint(this, guard.alone(writes::mark));
    }

    /**
     * Does a piece of work within this one. When it returns, what it has done is a part of this unit's transaction; when it
     * throws, the transaction goes back to where it began, and this unit can go on.
     */
    public <T extends @Nullable Object, X extends Exception> T call(Store.Work<T, X> task) throws X {
        check();
        return writes.nested(task);
    }

    /** As {@link #call}, without an answer. */
    public <X extends Exception> void run(Store.VoidWork<X> task) throws X {
        call(work -> {
            task.apply(work);
            return null;
        });
    }

    /** Rolls the transaction back. Objects keep the values that were set; standings and keys are those of its start. */
    public void rollback() {
        check();
        writes.rollback();
    }

    // ---- the unit itself

    /** Tells somebody of the flushes, commits and rollbacks of this unit, from now on. */
    public void listen(UnitListener listener) {
        check();
        writes.listen(Objects.requireNonNull(listener, "listener"));
    }

    /** What this unit has executed so far. */
    public Trace trace() {
        return trace;
    }

    void check() {
        guard.check();
    }

    /** Rolls back what was not committed, and lets go of all objects. A second call does nothing. */
    @Override
    public void close() {
        if (!guard.isClosed() && !guard.isBroken() && !tracker.isReadOnly() && UnitGuard.warnsOfLoss()) {
            FlushReport.Rows written = writes.written().total();
            int pending =
                    collector.hasChanges(entry -> true) ? collector.collect().size() : 0;
            UnitGuard.warnOfLoss(pending, written.inserted() + written.updated() + written.deleted());
        }
        abandon();
    }

    /** Closes without a word about what is lost, since an exception tells. */
    void abandon() {
        if (!guard.isClosed()) {
            guard.close();
            writes.abandon();
            tracker.close();
        }
    }
}
