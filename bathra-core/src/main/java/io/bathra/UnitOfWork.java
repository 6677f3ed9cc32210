package io.bathra;

import io.bathra.access.Accessor;
import io.bathra.answer.Pending;
import io.bathra.attr.Attr;
import io.bathra.bulk.Bulk;
import io.bathra.bulk.On;
import io.bathra.error.BathraException;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.Problem;
import io.bathra.flush.Unit;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.query.Condition;
import io.bathra.query.Query;
import io.bathra.query.Sql;
import io.bathra.read.KeyFinder;
import io.bathra.trace.Trace;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * A piece of work on the objects of a store: one object per row, changes found by comparing, one transaction at a time.
 * Short-lived, and for one thread.
 *
 * <pre>{@code
 * try (UnitOfWork work = store.begin()) {
 *     Vessel vessel = work.require(Vessel.class, 7L);
 *     work.add(new PortCall("2026-0001", vessel, eta));
 *     System.out.println(work.plan());
 *     work.commit();
 * }
 * }</pre>
 *
 * <p>A unit that is closed without {@code commit} rolls back. When a flush or a commit fails, the objects keep the
 * values that the user set, and their standings and keys are those from before; mend the cause and flush again. When
 * the connection is lost the unit is broken: every call but {@code close} throws.
 */
public final class UnitOfWork implements AutoCloseable {
    private final Unit unit;

    UnitOfWork(Unit unit) {
        this.unit = unit;
    }

    // ---- reading

    /**
     * {@return the entity with this key, if there is one} Asks the database only for what is not here yet.
     *
     * @param key a key of several attributes is the list of their values, a link counting as the key of its target
     * @param <E> the entity
     * @param type the class
     * @throws IllegalArgumentException when the key is of another type than the entity's
     */
    public <E> Optional<E> find(Class<E> type, Object key) {
        unit.check();
        return unit.finder().find(type, Objects.requireNonNull(key, "key"));
    }

    /**
     * {@return the entity with this key}
     *
     * @param <E> the entity
     * @param type the class
     * @param key the key
     * @throws NoSuchRowException when there is none
     */
    public <E> E require(Class<E> type, Object key) {
        return find(type, key)
                .orElseThrow(() -> new NoSuchRowException(
                        type.getSimpleName() + " " + key + " is not there; use find(...) where that may be so"));
    }

    /**
     * {@return the entities with these keys, as far as they are there, in the order of the keys} Asks the database
     * only for what is not here yet, with as few statements as the number allows.
     *
     * @param <E> the entity
     * @param type the class
     * @param keys the keys
     * @throws IllegalArgumentException when a key is of another type than the entity's
     */
    public <E> List<E> findAll(Class<E> type, Collection<?> keys) {
        unit.check();
        return unit.finder().findAll(type, Objects.requireNonNull(keys, "keys"));
    }

    /**
     * Reads entities of several classes by their keys, as far as they are not here yet. On a server all of them take
     * one
     * round trip; {@link #find}, {@link #require} and {@link #findAll} then answer from memory.
     *
     * <pre>{@code
     * work.read(Wanted.of(Vessel.class, 7L), Wanted.of(Operator.class, 3L));
     * work.require(Vessel.class, 7L).operator().set(work.require(Operator.class, 3L));
     * }</pre>
     *
     * @param wanted what is to be read
     * @throws IllegalArgumentException when a key is of another type than its entity's
     */
    public void read(Wanted... wanted) {
        unit.check();
        Map<Class<?>, List<Object>> keys = new LinkedHashMap<>();
        for (Wanted one : wanted) {
            keys.computeIfAbsent(one.type(), type -> new ArrayList<>()).addAll(one.keys());
        }
        unit.finder().read(keys);
    }

    /**
     * Begins a query. Pending changes to the tables that it reads are flushed before it is executed.
     *
     * @param <E> the entity
     * @param type the class
     * @return the query, which is not executed yet
     */
    public <E> Query<E> from(Class<E> type) {
        unit.check();
        return unit.query(type);
    }

    /**
     * {@return a statement in plain SQL with named parameters, in this unit's transaction} What is pending is flushed
     * before it
     * is executed; when it writes, tracked objects of the tables that it names are brought up to date, or dropped when
     * their rows are gone. Listeners hear nothing of it.
     *
     * <pre>{@code
     * List<Vessel> old = work.sql("select * from vessel where built < :year").with("year",
     * 1990).as(Vessel.class).list();
     * }</pre>
     *
     * @param text the text
     */
    public SqlCall<Map<String, @Nullable Object>> sql(String text) {
        return sql(Sql.of(text));
    }

    /**
     * {@return a statement in plain SQL that was made before, in this unit's transaction}
     *
     * @param <R> what each row becomes
     * @param statement the statement
     */
    public <R> SqlCall<R> sql(Sql<R> statement) {
        unit.check();
        return new SqlCall<>(unit.sqlLevel(), Objects.requireNonNull(statement, "statement"));
    }

    /**
     * Says how queries of this unit treat pending changes from now on, where they do not say so themselves. At first
     * they are flushed.
     *
     * @param treatment what is done with pending changes
     */
    public void pending(Pending treatment) {
        unit.check();
        unit.pending(Objects.requireNonNull(treatment, "treatment"));
    }

    // ---- changing

    /**
     * Takes a new object in, and everything new that it reaches over its associations, now or until the flush. A
     * removed object is taken back.
     *
     * @param entity the entity
     * @throws BathraException when the object has a drawn key already, so that it cannot be new
     */
    public void add(Object entity) {
        unit.check();
        unit.refuseWriting(() -> "a new object is added");
        unit.tracker().add(Objects.requireNonNull(entity, "entity"));
    }

    /**
     * {@return a handle to a row, which is not read: what it is told is written by the next flush, for which a
     * missing row is an error} Once the row has been read, the handle speaks of the entity.
     *
     * @param <E> the entity
     * @param type the class
     * @param key the key
     * @throws IllegalArgumentException when the key is of another type than the entity's
     */
    public <E> Row<E> row(Class<E> type, Object key) {
        unit.check();
        unit.refuseWriting(() -> "a handle to a row is for writing");
        ModelEntity<E> entity = unit.model().entity(type);
        return new Row<>(unit, entity, KeyFinder.key(entity, Objects.requireNonNull(key, "key")));
    }

    /**
     * Marks an entity for removal; a new one is merely forgotten. Rows that link to it have to go or move as well.
     *
     * @param entity the entity
     */
    public void remove(Object entity) {
        unit.check();
        unit.refuseWriting(() -> "an object is removed");
        unit.tracker().remove(Objects.requireNonNull(entity, "entity"));
    }

    /**
     * Tracks an object that was read elsewhere and edited since: its row is read now, and what differs is changed.
     *
     * @param <E> the entity
     * @param entity the entity
     * @return the same object
     * @throws io.bathra.error.ConcurrentChangeException when the row has another version than the object
     * @throws BathraException when this unit knows the row as another object
     * @throws NoSuchRowException when the row is gone
     */
    public <E> E adopt(E entity) {
        unit.adopt(Objects.requireNonNull(entity, "entity"));
        return entity;
    }

    /**
     * Tracks an object that was read elsewhere and edited since, and trusts its version: its row is not read, and all
     * of its columns are written when it has that version still. Collections of parts are read, to write the
     * difference.
     *
     * @param <E> the entity
     * @param entity the entity
     * @return the same object
     * @throws BathraException when the entity has no version, or this unit knows the row as another object
     */
    public <E> E adoptUnread(E entity) {
        unit.adoptUnread(entity);
        return entity;
    }

    /**
     * Gives an entity the values of a form: each component of the record goes to the attribute of its name.
     *
     * @param expectedVersion the version that the form has shown; null to take whatever is there
     * @param <E> the entity
     * @param values the values
     * @param entity the entity
     * @return the same object
     * @throws io.bathra.error.ConcurrentChangeException when the entity has another version by now; its conflicts are
     *     the attributes for which the form wants another value than is there, without what the form had shown
     */
    public <E> E carry(Record values, E entity, @Nullable Number expectedVersion) {
        unit.carry(values, entity, expectedVersion);
        return entity;
    }

    /**
     * Gives an entity, new or not, what somebody has typed into a form: all of it, or nothing where anything is wrong.
     * Whatever is wrong is told at once: texts that are no such values, what is missing or does not fit, declared
     * checks
     * that do not hold as far as the entity alone tells. Unique values are told by {@link #problems} afterwards.
     *
     * <pre>{@code
     * List<Problem> problems = work.bind(call, form, PortCall::vessel, PortCall::eta, PortCall::remark);
     * }</pre>
     *
     * <p>Names are those of {@link Bulk#maps}; a link may be given by what is unique in its target: {@code vessel.imo}.
     * A blank text stands for no value, and blanks around numbers, dates and words are left out. Attributes that are
     * not named in {@code settable}, and names of nothing, are ignored; attributes that are not in the texts stay.
     *
     * @param texts by the names of attributes
     * @param settable the attributes that a form may set
     * @param <E> the entity
     * @param entity the entity
     * @return empty when everything is set
     * @throws BathraException when nothing may be set, or something that programs do not set
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final <E> List<Problem> bind(
            E entity, Map<String, ? extends @Nullable String> texts, Attr<? super E, ?>... settable) {
        @SuppressWarnings("unchecked") // it is an object of its class
        ModelEntity<E> known = unit.model().entity((Class<E>) entity.getClass());
        if (settable.length == 0) {
            throw new BathraException(
                    "nothing of " + known + " may be set; name the attributes that the form may set," + " such as "
                            + known.stored().get(known.stored().size() - 1).accessor());
        }
        List<Attribute> attributes = new ArrayList<>();
        for (Attr<? super E, ?> attr : settable) {
            attributes.add(known.attribute(Accessor.of(attr)));
        }
        return unit.binding(known, entity, attributes).bind(texts);
    }

    /**
     * {@return the entity that fulfils a condition on its natural key, or a new one, which is flushed at once} When
     * somebody else was faster, theirs.
     *
     * @param naturalKey a condition on attributes that are unique
     * @param maker makes the new one
     * @param <E> the entity
     * @param type the class
     * @throws io.bathra.error.NotExactlyOneException when several fulfil it
     */
    public <E> E findOrAdd(Class<E> type, Condition<? super E> naturalKey, Supplier<? extends E> maker) {
        return unit.findOrAdd().one(type, unit.query(type).where(naturalKey), false, maker, entity -> {});
    }

    /**
     * {@return the entity that fulfils a condition on its natural key, or a new one; either is changed, and flushed
     * at once} The
     * row of one that is there is held until the end of the transaction, so nobody changes it at the same time.
     *
     * <pre>{@code
     * Vessel vessel = work.changeOrAdd(
     *     Vessel.class, the(Vessel::imo).is(imo), () -> new Vessel(imo, name), found -> found.rename(name));
     * }</pre>
     *
     * @param naturalKey a condition on attributes that are unique
     * @param maker makes the new one
     * @param change what is done to either; done once more, to the other one, when somebody else was faster
     * @param <E> the entity
     * @param type the class
     * @throws io.bathra.error.NotExactlyOneException when several fulfil it
     */
    public <E> E changeOrAdd(
            Class<E> type, Condition<? super E> naturalKey, Supplier<? extends E> maker, Consumer<? super E> change) {
        E entity = unit.findOrAdd().one(type, unit.query(type).where(naturalKey), true, maker, change);
        unit.flush();
        return entity;
    }

    /**
     * For each candidate, in order, the entity that is there with the same unique values, or the candidate itself,
     * which is flushed at once. By one statement when all are there, else by two, as far as one statement takes so
     * many. When somebody else was faster, theirs are found.
     *
     * <pre>{@code
     * List<Vessel> vessels = work.findOrAddAll(
     *     Vessel.class, on(Vessel::imo), imos.stream().map(imo -> new Vessel(imo, "unknown")).toList());
     * }</pre>
     *
     * @param on the attributes of a unique constraint, in which each candidate has values
     * @param <E> the entity
     * @param type the class
     * @param candidates the entities that are wanted
     * @return what was found, in order
     * @throws BathraException when there is no such constraint, or a candidate has no value
     */
    public <E> List<E> findOrAddAll(Class<E> type, On<? super E> on, Collection<? extends E> candidates) {
        return unit.findOrAdd().all(type, on, candidates);
    }

    /**
     * Stores rows of one entity in any number, without tracking, in this unit's transaction. What is pending for the
     * tables concerned is flushed before; tracked objects of the table are brought up to date afterwards.
     *
     * @param <E> the entity
     * @param type the class
     * @return what rows are given to
     */
    public <E> Bulk<E, E> bulk(Class<E> type) {
        unit.check();
        return Store.bulk(unit.bulkPlace(), type);
    }

    /** {@return how many objects of each entity this unit tracks, by the entities' names} */
    public Map<String, Integer> tracked() {
        return unit.counts();
    }

    /**
     * Stops to track an entity.
     *
     * @param entity the entity
     * @throws io.bathra.error.UnitStateException when it has pending changes, which it names; discard or flush them
     *     first
     */
    public void forget(Object entity) {
        PendingChange.refuse(
                changes().stream().filter(change -> change.entity() == entity).toList());
        unit.resets().release(entity);
    }

    /**
     * Stops to track all entities.
     *
     * @throws io.bathra.error.UnitStateException when there are pending changes, which it names; discard or flush
     *     them first
     */
    public void forgetAll() {
        PendingChange.refuse(changes());
        unit.tracker().releaseAll();
    }

    /**
     * Throws the pending changes of an entity away: it has the values of its row again, and a new one is forgotten.
     *
     * @param entity the entity
     */
    public void discard(Object entity) {
        unit.resets().discard(entity);
    }

    /** Throws all pending changes away. Many-to-many associations are read anew when they are visited. */
    public void discard() {
        unit.resets().discardAll();
    }

    /**
     * Reads the row of an entity again, and gives the entity its values; pending changes of it are lost.
     *
     * @param entity the entity
     * @throws NoSuchRowException when the row is gone
     */
    public void refresh(Object entity) {
        unit.resets().refresh(entity);
    }

    /**
     * Carries on after a {@link io.bathra.error.ConcurrentChangeException}: reads the rows of all changed entities
     * again, and takes over what others have changed, where this unit has changed other attributes.
     *
     * @throws io.bathra.error.ConcurrentChangeException with what both have changed, and rows that are gone
     */
    public void rebase() {
        unit.resets().rebase();
    }

    /**
     * {@return where an object stands in this unit}
     *
     * @param entity the entity
     */
    public Standing standing(Object entity) {
        unit.checkOpen();
        return Standing.of(unit.tracker().entryOf(entity));
    }

    /**
     * {@return whether a rollback would lose more than what is pending} That is rows which this transaction has
     * written or holds, by a flush, by query, in bulk or by plain SQL; and any other plain SQL, of which nobody knows
     * what it has done. Of a guest in somebody else's transaction it is always so.
     */
    public boolean hasUncommitted() {
        return unit.hasUncommitted();
    }

    /** {@return what the next flush would write, object by object: new ones, changed attributes, removed ones} */
    public List<PendingChange> changes() {
        return PendingChange.of(unit.changes());
    }

    /**
     * {@return what stands in the way of a flush; empty when nothing does} The database is asked which unique values
     * are taken by others.
     */
    public List<Problem> problems() {
        return unit.problems();
    }

    // ---- writing

    /**
     * {@return what a flush would do now, in order} Nothing is executed.
     *
     * @throws io.bathra.error.InvalidChangesException when the changes cannot be stored as they are
     * @throws io.bathra.error.UnorderableChangesException when no order can write them
     */
    public FlushPlan plan() {
        return FlushPlan.of(unit.plan(), unit.dialect());
    }

    /**
     * Writes all pending changes, and brings the objects in step. The transaction stays open.
     *
     * @return how many rows this flush has written
     * @throws io.bathra.error.InvalidChangesException before anything is written
     * @throws io.bathra.error.StatementException when the database refuses; the objects are as before
     */
    public FlushReport flush() {
        return new FlushReport(unit.flush());
    }

    /**
     * Flushes and commits. The unit can go on afterwards, in a new transaction.
     *
     * @return how many rows all flushes since the last commit have written
     */
    public FlushReport commit() {
        return new FlushReport(unit.commit(), unit.position());
    }

    /**
     * {@return how far the database had come at the last commit of this unit; it may be asked after the unit was
     * closed} Empty where nothing was written, and of a store that {@linkplain Store#readingFrom reads from no
     * standby}.
     *
     * @see Terms#notBefore
     */
    public Optional<Position> position() {
        return Optional.ofNullable(unit.position()).map(Position::parse);
    }

    /**
     * Flushes, and marks a place to which the transaction can go back, with all that is asked for from now on.
     *
     * @return the place
     * @throws io.bathra.error.StatementException when the database refuses what was pending
     */
    public Savepoint savepoint() {
        return new Savepoint(unit, unit.mark());
    }

    /**
     * Does a piece of work within this one. When it throws, it leaves no trace, as after {@link Savepoint#rollback}.
     *
     * @param <T> what the work answers
     * @param <X> the checked exception that the work may throw
     * @param task the work
     * @return what the work answers
     * @throws X when that fails
     */
    public <T extends @Nullable Object, X extends Exception> T call(Store.Work<T, X> task) throws X {
        unit.check();
        return unit.writes().nested(() -> task.apply(this));
    }

    /**
     * As {@link #call}, without an answer.
     *
     * @param <X> the checked exception that the work may throw
     * @param task the work
     * @throws X when that fails
     */
    public <X extends Exception> void run(Store.VoidWork<X> task) throws X {
        call(Store.answering(task));
    }

    /**
     * Rolls the transaction back. Each object holds what the database holds, which is read again where it is not known;
     * what was set or asked for since the last commit stays pending.
     */
    public void rollback() {
        unit.check();
        unit.writes().rollback();
    }

    /**
     * The host of a transaction that this unit has {@linkplain Store#join joined} tells how it has ended.
     *
     * @param outcome how it has ended
     * @throws io.bathra.error.UnitStateException when the transaction is this unit's own
     */
    public void ended(Outcome outcome) {
        switch (Objects.requireNonNull(outcome, "outcome")) {
            case COMMITTED -> unit.guest().committed();
            case ROLLED_BACK -> unit.guest().rolledBack();
            case UNKNOWN -> unit.guest().outcomeUnknown();
        }
    }

    // ---- the unit itself

    /**
     * Tells somebody of the flushes, commits and rollbacks of this unit, from now on.
     *
     * @param listener whoever is to hear of it
     */
    public void listen(UnitListener listener) {
        unit.check();
        unit.writes().tell(new Told(this, Objects.requireNonNull(listener, "listener")));
    }

    /**
     * Stops the statement that this unit is waiting for. The one call that another thread may make: an interrupt stops
     * no statement. The call that has sent it throws {@link io.bathra.error.StatementCancelled}; on SQLite the
     * transaction is gone with it.
     *
     * @return whether a statement was running
     */
    public boolean cancel() {
        return unit.cancel();
    }

    /** {@return what this unit has executed so far} */
    public Trace trace() {
        return unit.trace();
    }

    /** Rolls back what was not committed, and lets go of all objects. A second call does nothing. */
    @Override
    public void close() {
        unit.close();
    }

    Unit unit() {
        return unit;
    }
}
