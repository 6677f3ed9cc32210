package io.bathra.flush;

import io.bathra.answer.Pending;
import io.bathra.error.BathraException;
import io.bathra.error.Problem;
import io.bathra.error.UnitStateException;
import io.bathra.flush.Written.Counts;
import io.bathra.jdbc.BulkPlace;
import io.bathra.jdbc.Recorder;
import io.bathra.jdbc.Settings;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.plan.DeleteRules;
import io.bathra.plan.Plan;
import io.bathra.plan.Planner;
import io.bathra.query.Query;
import io.bathra.question.QueryDoor;
import io.bathra.question.Question;
import io.bathra.question.SetClause;
import io.bathra.read.EntityReader;
import io.bathra.read.KeyFinder;
import io.bathra.read.Outsiders;
import io.bathra.read.Overlaid;
import io.bathra.read.PendingRows;
import io.bathra.read.QueryAnswers;
import io.bathra.read.ReadSide;
import io.bathra.read.ReadingUnit;
import io.bathra.read.SqlLevel;
import io.bathra.sql.Dialect;
import io.bathra.trace.StoreListener;
import io.bathra.trace.Trace;
import io.bathra.track.Changes;
import io.bathra.track.Collector;
import io.bathra.track.Entry;
import io.bathra.track.Tracker;
import java.sql.Connection;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BiConsumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** A unit of work from within: what it tracks, what reads for it, and its transaction. For one thread. */
public final class Unit implements ReadingUnit {
    private static final QueryDoor QUERIES = QueryDoor.open(Query.class);

    private final Environment environment;
    private final boolean readOnly;
    private final Recorder trace;
    private final Transaction transaction;
    private final Tracker tracker;
    private final EntityReader reader;
    private final KeyFinder finder;
    private final QueryAnswers answers;
    private final Collector collector;
    private final UnitTransaction writes;
    private final UnitGuard guard;
    private final News news;
    private Pending pending = Pending.FLUSH;

    /**
     * How large and how old a unit becomes before it is warned of.
     *
     * @param entities how many it tracks
     */
    public record Limits(int entities, Duration age) {}

    /**
     * A unit that has not begun a transaction.
     *
     * @param noticing whether rows are remembered even where nothing is written
     * @param attempts how often its work may be done; where that is more than once, a lost reply to COMMIT is worth an inquiry
     * @param joined the connection of somebody else's transaction; null for one of its own
     */
    public Unit(
            Environment environment,
            Settings settings,
            boolean noticing,
            Attempts attempts,
            Limits limits,
            @Nullable Connection joined) {
        this.environment = environment;
        readOnly = settings.readOnly();
        trace = environment.recorder();
        transaction = environment.transaction(trace, settings, joined);
        ReadSide side = new ReadSide(environment.model(), transaction, this, readOnly && !noticing);
        tracker = side.tracker();
        reader = side.reader();
        finder = new KeyFinder(side);
        answers = new QueryAnswers(this, environment.queries(), side);
        collector = new Collector(tracker, environment.clock());
        guard = new UnitGuard(limits, () -> tracker.entries().size());
        news = new News(environment.listener(), this::facts);
        writes = new UnitTransaction(
                environment, transaction, readOnly, attempts, tracker, collector, guard, reader, news);
        news.begun();
    }

    private StoreListener.Unit facts(Counts written) {
        return new StoreListener.Unit(
                trace.unit(),
                readOnly,
                transaction.isJoined(),
                tracker.entries().size(),
                written.inserted(),
                written.updated(),
                written.deleted());
    }

    public Mapping model() {
        return environment.model();
    }

    public Dialect dialect() {
        return environment.dialect();
    }

    Environment environment() {
        return environment;
    }

    /** Stops the statement that is running; any thread may do so. */
    public boolean cancel() {
        return transaction.cancel();
    }

    Transaction transaction() {
        return transaction;
    }

    public Tracker tracker() {
        return tracker;
    }

    EntityReader reader() {
        return reader;
    }

    public Trace trace() {
        return trace;
    }

    /** How far the database had come at the last commit; null where nobody tells. */
    public @Nullable String position() {
        return transaction.position();
    }

    /** What was flushed, how it ends, and the places to go back to. */
    public UnitTransaction writes() {
        return writes;
    }

    /** What its host tells a unit that has joined somebody else's transaction. */
    public Guest guest() {
        checkOpen();
        return new Guest(writes, transaction, tracker.journal(), guard);
    }

    /** Throws changes away, or takes over those of others. */
    public Resets resets() {
        return new Resets(this, outsiders());
    }

    private Outsiders outsiders() {
        return new Outsiders(tracker, transaction, reader);
    }

    @Override
    public void check() {
        guard.check();
    }

    /** Refuses a unit that is closed; one that is broken can still be asked what it knows. */
    public void checkOpen() {
        guard.check(false);
    }

    // ---- reading

    public KeyFinder finder() {
        return finder;
    }

    /** A query of everything of a class. */
    @SuppressWarnings("unchecked") // the door makes queries of the class that it is given
    public <E> Query<E> query(Class<E> type) {
        model().entity(type);
        return (Query<E>) QUERIES.query(type, answers);
    }

    /** Where plain SQL of this unit is executed. */
    public SqlLevel sqlLevel() {
        return new UnitLevel(this);
    }

    @Override
    public Pending pending() {
        return pending;
    }

    public void pending(Pending treatment) {
        pending = treatment;
    }

    @Override
    public @Nullable Overlaid overlaid(Set<ModelEntity<?>> reads) {
        return readOnly ? null : reading(() -> PendingRows.of(tracker, transaction, collector.collect(), reads));
    }

    @Override
    public void flushChangesOf(Set<ModelEntity<?>> entities) {
        if (readOnly) {
            return;
        }
        boolean changed = collector.hasChanges(
                entities::contains, removed -> !Collections.disjoint(DeleteRules.reach(removed), entities));
        if (changed) {
            flush();
        }
    }

    @Override
    public <T extends @Nullable Object> T reading(Supplier<T> read) {
        return writes.reading(read);
    }

    // ---- changing

    @Override
    public void refuseWriting(Supplier<String> what) {
        if (readOnly) {
            throw new UnitStateException(
                    what.get() + ", but this unit of work is read-only; begin another one without readOnly()", null);
        }
    }

    /** Finds entities by what is unique in them, or adds them. */
    public FindOrAdd findOrAdd() {
        check();
        refuseWriting(() -> "what is missing is added");
        return new FindOrAdd(this);
    }

    /** Where bulk work of this unit is done. */
    public BulkPlace bulkPlace() {
        return new UnitBulk(this);
    }

    @Override
    public long update(Question<?> question, List<SetClause> clauses, Supplier<String> words) {
        return new SetWiseUpdate(this).update(question, clauses, words);
    }

    @Override
    public Map<String, Long> delete(Question<?> question, boolean counting, Supplier<String> words) {
        return new SetWiseDelete(this).delete(question, counting, words);
    }

    /** Tracks an object that was read elsewhere; its row is read, and what differs is changed. */
    public <E> void adopt(E entity) {
        adopt(entity, outsiders()::adopt);
    }

    /** Tracks an object that was read elsewhere, and trusts its version. */
    public <E> void adoptUnread(E entity) {
        adopt(entity, outsiders()::adoptUnread);
    }

    private <E> void adopt(E entity, BiConsumer<ModelEntity<E>, E> how) {
        check();
        refuseWriting(() -> "an object is adopted to be stored");
        @SuppressWarnings("unchecked") // an object's class is a class of its type
        ModelEntity<E> known = (ModelEntity<E>) model().entity((Class<? extends E>) entity.getClass());
        if (tracker.entryOf(entity) == null) {
            reading(() -> {
                how.accept(known, entity);
                return null;
            });
        }
    }

    /** Gives an entity the values of a form. */
    public void carry(Record values, Object entity, @Nullable Number expectedVersion) {
        outsiders().carry(values, tracked(entity), expectedVersion);
    }

    /** What gives an entity, known here or not, what somebody has typed. */
    public FormBinding binding(ModelEntity<?> entity, Object object, List<Attribute> settable) {
        check();
        refuseWriting(() -> "a form is bound");
        return new FormBinding(this, entity, object, settable);
    }

    /** The entry of an object that has to be known here. */
    Entry<?> tracked(Object entity) {
        check();
        Entry<?> entry = tracker.entryOf(entity);
        if (entry == null) {
            throw new BathraException("an object of " + entity.getClass().getSimpleName()
                    + " is not known to this unit of work; read it here, or adopt it");
        }
        return entry;
    }

    /** How many objects of each entity are tracked, by the entities' names. */
    public Map<String, Integer> counts() {
        check();
        Map<String, Integer> counts = new TreeMap<>();
        tracker.entries().forEach(entry -> counts.merge(entry.entity().name(), 1, Integer::sum));
        return counts;
    }

    /** Whether a rollback would, or may, take something back from the database. */
    public boolean hasUncommitted() {
        return transaction.hasWork();
    }

    /** What the next flush would write. */
    public Changes changes() {
        check();
        return collector.collect();
    }

    /** What stands in the way of a flush. */
    public List<Problem> problems() {
        Changes changes = changes();
        List<Problem> problems =
                new ArrayList<>(Planner.problems(tracker, changes, dialect().abilities()));
        if (problems.isEmpty() && !changes.isEmpty()) {
            reading(() -> problems.addAll(new TakenValues(transaction, tracker).problems(changes)));
        }
        return problems;
    }

    /** What a flush would do now. */
    public Plan plan() {
        return Planner.plan(tracker, changes(), transaction.database().dialect().abilities(), false);
    }

    /** The value of a stamp that is set now. */
    Object stampOfNow(ColumnAttribute stamp) {
        return collector.stampOfNow(stamp);
    }

    // ---- writing

    public Written flush() {
        return flush(true);
    }

    /** Writes all pending changes; listeners are told unless they are bypassed. */
    Written flush(boolean telling) {
        check();
        return guard.alone(() -> writes.flush(telling, Flush.Keys.DRAWN_BEFORE));
    }

    /** Writes all pending changes; says where the keys of new rows come from. */
    Written flush(Flush.Keys keys) {
        check();
        return guard.alone(() -> writes.flush(true, keys));
    }

    public Written commit() {
        return guard.alone(writes::commit);
    }

    /** Commits as the last act of this unit: when it fails, nothing is left to be mended here. */
    public void commitAtLast() {
        guard.alone(() -> {
            writes.commitAtLast();
            return null;
        });
    }

    /** Flushes, and marks a place to go back to. */
    public Places.Place mark() {
        check();
        return guard.alone(writes::mark);
    }

    // ---- the end

    /** Rolls back what was not committed, with a warning of what is lost, and lets go of all objects. */
    public void close() {
        try {
            if (!guard.isClosed() && !guard.isBroken() && !readOnly && UnitGuard.warnsOfLoss()) {
                warnOfLoss();
            }
        } finally { // whatever a converter of the user says
            abandon();
        }
    }

    private void warnOfLoss() {
        int changes = collector.hasChanges() ? collector.collect().size() : 0;
        if (transaction.isJoined()) {
            UnitGuard.warnOfLoss(changes);
            UnitGuard.warnOfSilence(writes.waiting());
        } else {
            UnitGuard.warnOfLoss(changes, writes.written().total());
        }
    }

    /** Closes without a word about what is lost, since an exception tells. */
    public void abandon() {
        if (!guard.isClosed()) {
            guard.close();
            try {
                writes.abandon();
            } finally {
                news.closed(guard.broken());
                tracker.close();
            }
        }
    }
}
