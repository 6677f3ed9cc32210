package io.bathra.read;

import io.bathra.jdbc.Cursor;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.RowReader;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.sql.Dialect;
import io.bathra.sql.SqlText;
import io.bathra.track.Cohort;
import io.bathra.track.Entry;
import io.bathra.track.Tracker;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.BiFunction;
import org.jspecify.annotations.Nullable;

/** Makes tracked objects of rows: one object per row, those of one query a cohort, each with its parts. */
public final class EntityReader {
    /** So many placeholders of one statement are fine with every database; more is read in chunks. */
    private final Transaction transaction;

    private final Tracker tracker;

    public EntityReader(Transaction transaction, Tracker tracker) {
        this.transaction = transaction;
        this.tracker = tracker;
    }

    /**
     * A reader of objects that no unit knows; {@link #release} lets go of them, whose unread links then stay unread.
     */
    public static EntityReader untracked(Mapping model, Transaction transaction) {
        return new EntityReader(transaction, Tracker.alone(model));
    }

    /** Lets go of all objects that were read. */
    void release() {
        tracker.close();
    }

    /** Reads the rows of a plain statement, whose columns may stand in any order. */
    <E> List<Entry<E>> readNamed(CharSequence cause, ModelEntity<E> entity, SqlText text) {
        List<Entry<E>> entries = new ArrayList<>();
        List<Entry<?>> upToDate = new ArrayList<>();
        Cohort cohort = tracker.newCohort();
        try (Cursor cursor = transaction.cursor(cause, text, false)) {
            RowReader rows = cursor.use(result -> NamedColumns.ofEntity(transaction, entity, result));
            while (cursor.next()) {
                Entry<E> entry = entry(entity, cursor.use(result -> rows.row(result, 1)), upToDate);
                cohort.add(entry);
                entries.add(entry);
            }
        }
        readParts(entity, upToDate);
        return entries;
    }

    /** Makes an object of a row; it has no parts. */
    <E> E object(ModelEntity<E> entity, @Nullable Object[] row) {
        return entry(entity, row, new ArrayList<>()).object();
    }

    /** Takes what stands behind the columns of a row, from an index on. */
    interface Beyond {
        void read(Entry<?> entry, ResultSet result, int index) throws SQLException;
    }

    /** Reads the rows of a select over the stored attributes of an entity. */
    public <E> List<Entry<E>> read(CharSequence cause, ModelEntity<E> entity, SqlText select) {
        return read(cause, entity, select, null, (entry, result, index) -> {});
    }

    /**
     * Reads the rows of a select over the stored attributes of an entity, none of which comes twice: where none is
     * known before, none need be looked for.
     *
     * @param joined the entities whose attributes stand behind
     * @param overlaid what is pending among the rows; null for nothing
     * @param objects where to put the objects
     * @return their entries
     */
    <E> List<Entry<?>> readDistinct(
            CharSequence cause,
            ModelEntity<E> entity,
            List<AlongTree.Joined> joined,
            SqlText select,
            @Nullable Overlaid overlaid,
            List<E> objects) {
        boolean anew = tracker.knowsNone(entity)
                && !entity.isView()
                && overlaid == null
                && (joined.isEmpty() || joined.stream().noneMatch(one -> one.target() == entity));
        List<Entry<?>> upToDate = new ArrayList<>();
        Cohort cohort = tracker.newCohort();
        RowReader rows = transaction.rowReader(entity);
        JoinedRows behind = joined.isEmpty() ? null : new JoinedRows(entity, joined);
        transaction.query(cause, select, result -> {
            @Nullable Object[] row = rows.row(result, 1);
            Entry<E> entry = anew
                    ? tracker.loader().stored(entity, entity.instantiate(), row, true)
                    : entry(entity, row, upToDate, overlaid, result, 1);
            cohort.add(entry);
            objects.add(entry.object());
            if (behind != null) {
                behind.read(result);
            }
        });
        readParts(entity, anew ? cohort.members() : upToDate);
        if (behind != null) {
            behind.readParts();
        }
        return cohort.members();
    }

    /** The entities behind another one in its rows; each comes as often as somebody leads to it, and is read once. */
    private final class JoinedRows {
        private final List<One> all = new ArrayList<>();

        private record One(ModelEntity<?> target, int from, Set<Object> seen, Cohort cohort, List<Entry<?>> upToDate) {}

        JoinedRows(ModelEntity<?> entity, List<AlongTree.Joined> joined) {
            int from = 1 + entity.columnsWithRow().size();
            for (AlongTree.Joined one : joined) {
                all.add(new One(one.target(), from, new HashSet<>(), tracker.newCohort(), new ArrayList<>()));
                from += one.target().columnsWithRow().size();
            }
        }

        void read(ResultSet result) throws SQLException {
            for (One one : all) {
                Object key = key(one, result);
                if (key != null && one.seen.add(key)) {
                    @Nullable Object[] row = transaction.rowReader(one.target).row(result, one.from);
                    one.cohort.add(entry(one.target, row, one.upToDate));
                }
            }
        }

        private @Nullable Object key(One one, ResultSet result) throws SQLException {
            @Nullable Object[] row = new Object[one.target.stored().size()];
            int index = one.from;
            for (StoredAttribute attribute : one.target.keyAttributes()) {
                row[attribute.slot()] = KeyedRows.value(transaction, attribute, result, index);
                index += attribute.columns().size();
            }
            return one.target.keyIn(row);
        }

        void readParts() {
            all.forEach(one -> EntityReader.this.readParts(one.target, one.upToDate));
        }
    }

    /** Reads the rows of a select over the stored attributes of an entity, and more columns behind them. */
    <E> List<Entry<E>> read(CharSequence cause, ModelEntity<E> entity, SqlText select, Beyond beyond) {
        return read(cause, entity, select, null, beyond);
    }

    /**
     * The same for rows among which are pending ones.
     *
     * @param overlaid what is pending; null for nothing
     */
    <E> List<Entry<E>> read(
            CharSequence cause, ModelEntity<E> entity, SqlText select, @Nullable Overlaid overlaid, Beyond beyond) {
        List<Entry<E>> entries = new ArrayList<>();
        List<Entry<?>> upToDate = new ArrayList<>();
        Cohort cohort = tracker.newCohort();
        int behind = 1 + entity.columnsWithRow().size() + (overlaid == null ? 0 : overlaid.more(entity));
        RowReader rows = transaction.rowReader(entity);
        transaction.query(cause, select, result -> {
            Entry<E> entry = entry(entity, rows.row(result, 1), upToDate, overlaid, result, 1);
            beyond.read(entry, result, behind);
            cohort.add(entry);
            entries.add(entry);
        });
        readParts(entity, upToDate);
        return entries;
    }

    /** Reads the rows of a select over the stored attributes of two entities. */
    <E, F, R> List<R> readBeside(
            CharSequence cause,
            ModelEntity<E> left,
            ModelEntity<F> right,
            SqlText select,
            @Nullable Overlaid overlaid,
            BiFunction<E, F, R> maker) {
        List<R> rows = new ArrayList<>();
        Map<ModelEntity<?>, List<Entry<?>>> upToDate = new LinkedHashMap<>();
        List<Entry<?>> ofLeft = upToDate.computeIfAbsent(left, entity -> new ArrayList<>());
        List<Entry<?>> ofRight = upToDate.computeIfAbsent(right, entity -> new ArrayList<>());
        Cohort leftCohort = tracker.newCohort();
        Cohort rightCohort = tracker.newCohort();
        int second = 1 + left.columnsWithRow().size() + (overlaid == null ? 0 : overlaid.more(left));
        RowReader ofLeftRows = transaction.rowReader(left);
        RowReader ofRightRows = transaction.rowReader(right);
        transaction.query(cause, select, result -> {
            Entry<E> one = entry(left, ofLeftRows.row(result, 1), ofLeft, overlaid, result, 1);
            Entry<F> other = entry(right, ofRightRows.row(result, second), ofRight, overlaid, result, second);
            leftCohort.add(one);
            rightCohort.add(other);
            rows.add(maker.apply(one.object(), other.object()));
        });
        upToDate.forEach(this::readParts);
        return rows;
    }

    /** Reads the parts of several owners, and brings their collections up to date. */
    void readParts(ModelEntity<?> entity, List<Entry<?>> owners) {
        for (PartsAttribute parts : entity.parts()) {
            Cohort cohort = tracker.newCohort();
            partRows(parts, owners)
                    .forEach((owner, rows) ->
                            tracker.loader().parts(owner, parts, rows).forEach(cohort::add));
        }
    }

    /** The entry of a row that may be pending: what is, comes back as itself; everything else as it is stored. */
    @SuppressWarnings("unchecked") // rows of an entity show entries of that entity
    private <E> Entry<E> entry(
            ModelEntity<E> entity,
            @Nullable Object[] row,
            List<Entry<?>> upToDate,
            @Nullable Overlaid overlaid,
            ResultSet result,
            int from)
            throws SQLException {
        if (overlaid == null) {
            return entry(entity, row, upToDate);
        }
        Entry<?> pending =
                overlaid.pending(entity, result, from + entity.columnsWithRow().size());
        return pending == null ? entry(entity, overlaid.asStored(entity, row), upToDate) : (Entry<E>) pending;
    }

    @SuppressWarnings("unchecked") // an entity's keys lead to entries of that entity
    private <E> Entry<E> entry(ModelEntity<E> entity, @Nullable Object[] row, List<Entry<?>> upToDate) {
        Entry<?> known = tracker.entry(entity, Objects.requireNonNull(entity.keyIn(row)));
        if (known == null) {
            Entry<E> entry = tracker.loader().stored(entity, entity.instantiate(), row, false);
            if (!entity.parts().isEmpty()) {
                upToDate.add(entry);
            }
            return entry;
        }
        if (tracker.loader().refresh(known, row)) {
            upToDate.add(known);
        }
        return (Entry<E>) known;
    }

    /** The rows of several owners' parts in their order, read in one statement. */
    public Map<Entry<?>, List<@Nullable Object[]>> partRows(PartsAttribute attribute, List<Entry<?>> owners) {
        Map<Object, Entry<?>> byKey = new LinkedHashMap<>();
        owners.forEach(owner -> byKey.put(Objects.requireNonNull(owner.key()), owner));
        Map<Entry<?>, List<@Nullable Object[]>> rows = new LinkedHashMap<>();
        owners.forEach(owner -> rows.put(owner, new ArrayList<>()));
        LinkAttribute owner = attribute.parts().owner();
        ModelEntity<?> parts = attribute.parts().rows();
        Dialect dialect = transaction.database().dialect();
        for (List<Object> keys :
                KeyedRows.chunks(byKey.keySet(), owner.columns().size())) {
            transaction.query(
                    Causes.read(attribute, keys.size()), dialect.selects().leading(owner, keys), result -> {
                        @Nullable Object[] row = KeyedRows.row(transaction, parts, result);
                        Entry<?> entry = byKey.get(Objects.requireNonNull(row[owner.slot()]));
                        Objects.requireNonNull(rows.get(entry)).add(row);
                    });
        }
        StoredAttribute order = attribute.parts().order();
        if (order != null) {
            Comparator<@Nullable Object[]> byPosition =
                    Comparator.comparing(row -> (Long) Objects.requireNonNull(row[order.slot()]));
            rows.values().forEach(own -> own.sort(byPosition));
        }
        return rows;
    }
}
