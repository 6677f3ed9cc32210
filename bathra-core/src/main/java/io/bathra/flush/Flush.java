package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.Conflict;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.StatementException;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.PairWriter;
import io.bathra.jdbc.RowWriter;
import io.bathra.jdbc.Transaction;
import io.bathra.jdbc.Trip;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.plan.Cascade;
import io.bathra.plan.Chain;
import io.bathra.plan.Plan;
import io.bathra.plan.Step;
import io.bathra.read.Causes;
import io.bathra.sql.AlongWriter;
import io.bathra.sql.Dialect;
import io.bathra.sql.SqlText;
import io.bathra.sql.StepText;
import io.bathra.sql.WriteForm;
import io.bathra.trace.Operation;
import io.bathra.track.AfterFlush;
import io.bathra.track.Change;
import io.bathra.track.Change.Insert;
import io.bathra.track.Change.Update;
import io.bathra.track.Entry;
import io.bathra.track.Entry.State;
import io.bathra.track.Settlement;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Executes one plan: draws keys, writes the steps in order, and brings the objects in step at the very end. Until then
 * no object is touched, so a flush that fails leaves them as they were.
 */
final class Flush {
    private final Transaction transaction;
    private final Dialect dialect;
    private final Tracker tracker;
    private final Environment environment;
    private final Plan plan;
    private final Keys keysFrom;
    private final Map<String, Long> lastKeys;
    private final AfterFlush after;

    /** The steps whose inserts answer with the keys of their rows. */
    private Map<Step, AnsweredKeys> answering = Map.of();

    private RowKeys rowKeys = new RowKeys();

    /** The rows of each step as they were written; empty for one that concerns rows which nobody has seen. */
    private final List<List<@Nullable Object[]>> rowsOf;

    private final List<Written.One> written = new ArrayList<>(4);

    /** What has become of tracked objects by way of rows that nobody has seen. */
    private List<Settlement> left = List.of();

    /** The step that is being executed. */
    private @Nullable Step running;

    /** Where the keys of new rows come from. */
    enum Keys {
        /** They are drawn before the first insert, so that other rows of the flush can refer to them. */
        DRAWN_BEFORE,
        /**
         * An insert whose rows no other refers to answers with their keys: one statement less, but rows go in by the
         * slower way.
         */
        FROM_INSERTS
    }

    Flush(
            Environment environment,
            Transaction transaction,
            Tracker tracker,
            Plan plan,
            Keys keysFrom,
            Map<String, Long> lastKeys) {
        this.lastKeys = lastKeys;
        this.environment = environment;
        this.keysFrom = keysFrom;
        this.tracker = tracker;
        this.after = new AfterFlush(tracker);
        this.transaction = transaction;
        this.dialect = transaction.database().dialect();
        this.plan = plan;
        this.rowsOf = new ArrayList<>(plan.steps().size());
    }

    /**
     * Writes to the database; objects stay as they are.
     *
     * @param last adds what is to be written last, before the transaction is committed in the same trip, where nothing
     *     can object any more; null for no commit
     */
    void write(@Nullable Consumer<Trip> last) {
        try {
            writeSteps(transaction.trip(), last);
        } finally {
            transaction.carriesOut(0, null);
        }
    }

    /** Writes step by step, each by a trip of its own, after what was written together has been taken back. */
    void writeOneByOne() {
        rowsOf.clear();
        written.clear();
        answering = Map.of();
        rowKeys = new RowKeys();
        try {
            writeSteps(null, null);
        } finally {
            transaction.carriesOut(0, null);
        }
    }

    private void writeSteps(@Nullable Trip trip, @Nullable Consumer<Trip> last) {
        drawKeys(trip);
        if (plan.isDeferring()) {
            transaction.execute(Causes.FLUSH, dialect.forms().deferConstraints());
        }
        RowWriter writer = new RowWriter(transaction);
        List<Step> steps = plan.steps();
        for (int i = 0; i < steps.size(); i++) { // no iterators here: this is done for each flush
            Step step = steps.get(i);
            running = step;
            transaction.carriesOut(i + 1, step.operation());
            if (step.cascade() != null) {
                send(trip);
                written.add(new Written.One(step.entity(), step.operation(), write(step.cascade())));
                rowsOf.add(List.of());
                continue;
            }
            WriteForm form = StepText.form(dialect, step);
            List<@Nullable Object[]> rows = new ArrayList<>(step.rowCount());
            int late = 0;
            List<Change> changes = step.changes();
            for (int j = 0; j < changes.size(); j++) {
                Change change = changes.get(j);
                @Nullable Object[] row = rowKeys.row(change);
                rows.add(row);
                late += isExtra(change) ? 1 : 0;
            }
            rowsOf.add(rows);
            if (trip != null && isSentTogether(trip, i + 1, step, form, rows)) {
                written.add(new Written.One(step.entity(), step.operation(), step.rowCount() - late));
                continue;
            }
            send(trip);
            if (step.operation().inserts() && step.entity().kind() == ModelEntity.Kind.PIVOT) {
                PairWriter pairs = new PairWriter(transaction, step.entity(), Causes.FLUSH);
                if (step.operation() == Operation.INSERT) {
                    pairs.insert(form, rows);
                } else {
                    pairs.insertMissing(form, rows);
                }
                written.add(new Written.One(step.entity(), Operation.INSERT, rows.size()));
                continue;
            }
            AnsweredKeys answered = answering.get(step);
            long count = answered == null
                    ? writer.write(Causes.FLUSH, form, rows)
                    : answered.write(transaction, writer, rows);
            boolean pairs = step.entity().kind() == ModelEntity.Kind.PIVOT; // somebody else may have taken them apart
            if (!pairs && count != rows.size()) {
                if (step.operation() == Operation.INSERT) {
                    throw new StatementException(
                            "an insert into " + step.table() + " reported " + count + " rows instead of " + rows.size(),
                            form.sql().apply(1),
                            null);
                }
                throw new RowsMissing(step);
            }
            readBack(step, rows);
            written.add(new Written.One(step.entity(), step.operation(), step.rowCount() - late));
        }
        Set<ModelEntity<?>> removed = removed();
        if (!removed.isEmpty()) {
            send(trip);
            left = new ArrayList<>(new Leftovers(transaction, tracker).unseen(removed, known()));
        }
        String check = plan.isDeferring() ? dialect.forms().checkConstraints() : null;
        if (check != null) {
            send(trip);
            transaction.execute(Causes.FLUSH, check);
        }
        if (trip != null) {
            boolean committing = last != null && !trip.isEmpty() && check == null && left.isEmpty() && keepsAll();
            if (last != null && committing) {
                last.accept(trip);
            }
            trip.send(committing);
        }
    }

    /**
     * Whether objects can be brought in step without a converter of the user's, which might refuse what the row has.
     */
    private boolean keepsAll() {
        for (int i = 0; i < rowsOf.size(); i++) {
            Step step = plan.steps().get(i);
            if (step.cascade() == null && !madeBy(step).isEmpty()) {
                return false; // what the database has made is still to be read
            }
            if (step.entity().isConverted() && !isKept(step, rowsOf.get(i))) {
                return false;
            }
        }
        return true;
    }

    /** Whether the rows have what the objects have, wherever a converter stands between. */
    private static boolean isKept(Step step, List<@Nullable Object[]> rows) {
        for (int i = 0; i < rows.size(); i++) {
            Entry<?> entry = step.changes().get(i).entry();
            for (StoredAttribute attribute : step.entity().stored()) {
                Object row = rows.get(i)[attribute.slot()];
                if (attribute.isConverted() && !Objects.deepEquals(row, attribute.get(entry.object()))) {
                    return false;
                }
            }
        }
        return true;
    }

    /**
     * Adds the rows of a step to those that are sent together, where they can be; what is made of them is asked
     * behind.
     */
    private boolean isSentTogether(Trip trip, int number, Step step, WriteForm form, List<@Nullable Object[]> rows) {
        boolean pairs = step.entity().kind() == ModelEntity.Kind.PIVOT;
        List<StoredAttribute> made = madeBy(step);
        if (step.operation() == Operation.INSERT_MISSING
                || answering.containsKey(step)
                || (!made.isEmpty()
                        && !KeyedRows.areFew(rows, step.entity().keyColumns().size()))) {
            return false;
        }
        List<@Nullable Object[]> ordered = pairs && step.operation() == Operation.INSERT
                ? new PairWriter(transaction, step.entity(), Causes.FLUSH).inOrder(rows)
                : rows;
        Supplier<RuntimeException> missed = pairs ? null : () -> new RowsMissing(step);
        boolean added = trip.add(number, step.operation(), Causes.FLUSH, form, ordered, missed);
        if (added && !made.isEmpty()) {
            Made again = new Made(step.entity(), made, rows);
            KeyedRows.askAgain(transaction, trip, Made.CAUSE, step.entity(), again.keys(), again::found);
        }
        return added;
    }

    private static void send(@Nullable Trip trip) {
        if (trip != null) {
            trip.send(false);
        }
    }

    /** Deletes what goes along with removed rows, or empties its links; tells how many rows there were. */
    private int write(Cascade cascade) {
        long count = 0;
        for (Map.Entry<ModelEntity<?>, List<Chain>> one : cascade.byRoot().entrySet()) {
            ModelEntity<?> root = one.getKey();
            List<Object> removed = cascade.removed(root);
            for (List<Object> keys : KeyedRows.chunks(removed, root.keyColumns().size())) {
                SqlText sql =
                        AlongWriter.write(dialect, cascade.operation(), one.getValue(), new AlongWriter.WithKeys(keys));
                count += transaction.update(Causes.FLUSH, sql, cascade.entity().table());
            }
        }
        return Math.toIntExact(count);
    }

    /** Updates that only break a ring are not counted: their rows are written by other steps. */
    private static boolean isExtra(Change change) {
        return change instanceof Update update
                && (update.temporary() || change.entry().state() == State.NEW);
    }

    /** Reads what the database has made of the rows of a step, in one statement. */
    private void readBack(Step step, List<@Nullable Object[]> rows) {
        List<StoredAttribute> made = madeBy(step);
        if (!made.isEmpty()) {
            Made again = new Made(step.entity(), made, rows);
            KeyedRows.readAgain(transaction, Made.CAUSE, step.entity(), again.keys(), "", again::found);
        }
    }

    /** The attributes into whose values the database has put something. */
    private static List<StoredAttribute> madeBy(Step step) {
        return switch (step.operation()) {
            case INSERT, INSERT_MISSING -> step.columnSet().madeByInsert();
            case UPDATE -> step.entity().madeByUpdate();
            case DELETE -> List.of();
        };
    }

    /** The entities of which rows were removed that others may go along with. */
    private Set<ModelEntity<?>> removed() {
        Set<ModelEntity<?>> removed = Set.of(); // as in most flushes
        List<Step> steps = plan.steps();
        for (int i = 0; i < steps.size(); i++) {
            Step step = steps.get(i);
            if (step.operation() == Operation.DELETE && step.entity().kind() == ModelEntity.Kind.ENTITY) {
                removed = removed.isEmpty() ? new LinkedHashSet<>() : removed;
                removed.add(step.entity());
            }
        }
        return removed;
    }

    private Set<Entry<?>> known() {
        Set<Entry<?>> known = Collections.newSetFromMap(new IdentityHashMap<>());
        plan.steps().forEach(step -> step.changes().forEach(change -> known.add(change.entry())));
        for (Settlement settlement : plan.settlements()) {
            if (settlement instanceof Settlement.OfTaken taken) {
                known.addAll(taken.entries());
            }
        }
        return known;
    }

    /** Brings the objects in step with what was written. */
    Written settle() {
        each(plan.settlements(), Settlement::begin);
        each(left, Settlement::begin);
        for (int i = 0; i < rowsOf.size(); i++) {
            settle(plan.steps().get(i), rowsOf.get(i));
        }
        each(plan.settlements(), Settlement::end);
        each(left, Settlement::end);
        return Written.of(written, plan.leftToDatabase());
    }

    private static void each(List<Settlement> some, Consumer<Settlement> what) {
        if (!some.isEmpty()) { // as in most flushes
            some.forEach(what);
        }
    }

    /** All keys that the plan's new rows need, in one round trip a table; ascending in the order of the rows. */
    private void drawKeys(@Nullable Trip trip) {
        Map<ModelEntity<?>, List<Entry<?>>> waiting = Map.of();
        for (Step step : plan.steps()) {
            AnsweredKeys answered = keysFrom == Keys.FROM_INSERTS ? AnsweredKeys.of(step, plan) : null;
            if (answered != null) {
                answering = answering.isEmpty() ? new IdentityHashMap<>() : answering;
                answering.put(step, answered);
                continue;
            }
            boolean draws = step.operation() == Operation.INSERT
                    && step.entity().keySource().isDrawn();
            waiting = draws && waiting.isEmpty() ? new LinkedHashMap<>() : waiting;
            for (Change change : draws ? step.changes() : List.<Change>of()) {
                waiting.computeIfAbsent(step.entity(), e -> new ArrayList<>()).add(change.entry());
            }
        }
        if (waiting.isEmpty()) {
            return;
        }
        KeyDrawer drawer = environment.keyDrawer(transaction, Causes.FLUSH, lastKeys);
        if (trip != null) {
            drawer.stockUp(waiting);
        }
        waiting.forEach((entity, entries) -> {
            List<Object> drawn = drawer.draw(entity, entries.size());
            for (int i = 0; i < entries.size(); i++) {
                rowKeys.drawn(entries.get(i), drawn.get(i));
            }
            if (trip != null) {
                drawer.drawAhead(trip, entity, entries.size());
            }
        });
    }

    private void settle(Step step, List<@Nullable Object[]> rows) {
        for (int i = 0; i < rows.size(); i++) {
            settle(step.changes().get(i), rows.get(i));
        }
    }

    private void settle(Change change, @Nullable Object[] row) {
        if (change instanceof Insert) {
            after.inserted(change.entry(), row);
        } else if (change instanceof Update update) {
            if (update.temporary()) {
                return; // a later step writes the row as it stays
            }
            after.updated(change.entry(), row);
        } else {
            after.deleted(change.entry());
        }
    }

    /** A failure in words that say what is behind it, where few databases do. */
    RuntimeException explain(RuntimeException failure) {
        return failure instanceof RowsMissing missing
                ? explain(missing)
                : failure instanceof ForeignKeyViolation violation ? explain(violation) : failure;
    }

    /** A failure behind which nobody can look any more. */
    static RuntimeException unexplained(RuntimeException failure) {
        return failure instanceof RowsMissing missing ? missing.unexplained() : failure;
    }

    /** Finds out, after the rollback, which rows are behind a foreign key that was violated. */
    private BathraException explain(ForeignKeyViolation violation) {
        return running == null ? violation : new Culprits(transaction).explain(violation, running);
    }

    /** Finds out, after the rollback, which rows somebody else has removed or changed, and how. */
    private BathraException explain(RowsMissing missing) {
        Step step = missing.step();
        if (step.operation() == Operation.INSERT) {
            return missing.heldBack();
        }
        ModelEntity<?> entity = step.entity();
        ColumnAttribute version = entity.version();
        List<Object> keys = new ArrayList<>();
        step.changes().forEach(change -> keys.add(rowKeys.keyOf(change.entry())));
        Map<Object, @Nullable Object[]> found = new HashMap<>();
        // A snapshot may hide what others have done, and a lock shows it. Behind the end of the transaction there is
        // none, and a lock would be in the way of those who come next.
        String locking = transaction.isOpen() ? dialect.expressions().lockingRead() : "";
        KeyedRows.readAgain(
                transaction,
                "flush: which rows are gone",
                entity,
                keys,
                locking,
                row -> found.put(Objects.requireNonNull(entity.keyIn(row)), row));
        List<String> lost = new ArrayList<>();
        List<Conflict> conflicts = new ArrayList<>();
        for (Change change : step.changes()) {
            Entry<?> entry = change.entry();
            @Nullable Object[] theirs = found.get(rowKeys.keyOf(entry));
            if ((theirs == null && entry.isBlind())
                    || (theirs == null && version == null && entry.state() == State.LOOSE)) {
                return new NoSuchRowException(entry + " is not there, so it cannot be "
                        + (step.operation() == Operation.DELETE ? "removed" : "changed"));
            } else if (theirs == null) {
                lost.add(entry + " (removed by somebody else)");
            } else if (version != null && !Objects.equals(entry.before(version), theirs[version.slot()])) {
                lost.add(entry + " (version " + entry.before(version)
                        + (entry.state() == State.LOOSE ? " was expected" : " was read") + ", but it has "
                        + theirs[version.slot()] + " now)");
                conflicts.addAll(entry.conflicts(theirs));
            }
        }
        return lost.isEmpty()
                ? missing.heldBack()
                : new ConcurrentChangeException(step.operation().toString(), lost, conflicts);
    }
}
