package io.bathra.read;

import io.bathra.jdbc.Alike;
import io.bathra.jdbc.Asked;
import io.bathra.jdbc.Cursor;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.RowReader;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.sql.SqlText;
import io.bathra.track.Cohort;
import io.bathra.track.Entry;
import io.bathra.track.Tracker;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
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
     * @param key the key that is asked for; null for any others
     * @param ahead what hangs on the entity with that key, and is to be asked for in the same trip
     * @return their entries
     */
    <E> List<Entry<?>> readDistinct(
            CharSequence cause,
            ModelEntity<E> entity,
            List<AlongTree.Joined> joined,
            SqlText select,
            @Nullable Overlaid overlaid,
            List<E> objects,
            @Nullable Object key,
            List<Ahead> ahead) {
        boolean anew = tracker.knowsNone(entity)
                && !entity.isView()
                && overlaid == null
                && (joined.isEmpty() || joined.stream().noneMatch(one -> one.target() == entity));
        List<Entry<?>> upToDate = new ArrayList<>();
        Cohort cohort = tracker.newCohort();
        RowReader rows = transaction.rowReader(entity);
        JoinedRows behind = joined.isEmpty() ? null : new JoinedRows(entity, joined);
        Transaction.RowHandler handler = result -> {
            @Nullable Object[] row = rows.row(result, 1);
            Entry<E> entry = anew
                    ? tracker.loader().stored(entity, entity.instantiate(), row, true)
                    : entry(entity, row, upToDate, overlaid, result, 1);
            cohort.add(entry);
            objects.add(entry.object());
            if (behind != null) {
                behind.read(result);
            }
        };
        List<Entry<?>> owners = anew ? cohort.members() : upToDate;
        if (key == null || !readTogether(new Asked(cause, select, handler), entity, key, ahead, owners, cohort)) {
            transaction.query(cause, select, handler);
            readParts(entity, owners);
        }
        if (behind != null) {
            behind.readParts();
        }
        return cohort.members();
    }

    /** Reads entities of several classes by their keys, and their parts, in one trip; tells whether that can be. */
    boolean readTogether(Map<ModelEntity<?>, List<Object>> wanted) {
        List<Asked> asked = new ArrayList<>();
        List<Runnable> ends = new ArrayList<>();
        wanted.forEach((entity, keys) -> {
            Reading<?> reading = new Reading<>(entity, null, (entry, result, index) -> {});
            String cause = "find " + keys.size() + " of " + entity.name();
            asked.add(
                    new Asked(cause, transaction.database().dialect().selects().rows(entity, keys), reading::row));
            PartsAhead parts = new PartsAhead(entity, keys, asked);
            ends.add(() -> parts.end(reading.upToDate));
        });
        if (!transaction.queryTogether(asked)) {
            return false;
        }
        ends.forEach(Runnable::run);
        return true;
    }

    /** Reads an entity, its parts and what hangs on it in one trip; tells whether that can be. */
    private boolean readTogether(
            Asked itself, ModelEntity<?> entity, Object key, List<Ahead> ahead, List<Entry<?>> owners, Cohort cohort) {
        if (ahead.isEmpty() && entity.parts().isEmpty()) {
            return false;
        }
        List<Asked> asked = new ArrayList<>();
        asked.add(itself);
        PartsAhead parts = new PartsAhead(entity, List.of(key), asked);
        ahead.forEach(one -> asked.add(one.asked()));
        if (!transaction.queryTogether(asked)) {
            return false;
        }
        parts.end(owners);
        cohort.members().forEach(owner -> ahead.forEach(one -> one.end(owner)));
        return true;
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
        Reading<E> reading = new Reading<>(entity, overlaid, beyond);
        transaction.query(cause, select, reading::row);
        return reading.end();
    }

    /** A query of an entity while its rows come. */
    final class Reading<E> {
        private final ModelEntity<E> entity;
        private final @Nullable Overlaid overlaid;
        private final Beyond beyond;
        private final int behind;
        private final RowReader rows;
        private final List<Entry<E>> entries = new ArrayList<>();
        private final List<Entry<?>> upToDate = new ArrayList<>();
        private final Cohort cohort = tracker.newCohort();

        Reading(ModelEntity<E> entity, @Nullable Overlaid overlaid, Beyond beyond) {
            this.entity = entity;
            this.overlaid = overlaid;
            this.beyond = beyond;
            this.behind = 1 + entity.columnsWithRow().size() + (overlaid == null ? 0 : overlaid.more(entity));
            this.rows = transaction.rowReader(entity);
        }

        void row(ResultSet result) throws SQLException {
            Entry<E> entry = entry(entity, rows.row(result, 1), upToDate, overlaid, result, 1);
            beyond.read(entry, result, behind);
            cohort.add(entry);
            entries.add(entry);
        }

        /** All rows have come. */
        List<Entry<E>> end() {
            readParts(entity, upToDate);
            return entries;
        }
    }

    /** The parts of entities with some keys, while their rows come. */
    private final class PartsAhead {
        private final Set<Object> asked;
        private final Map<PartsAttribute, PartRows> all = new LinkedHashMap<>();

        /** Asks for the parts of the entities with some keys, as many as fit into one statement. */
        PartsAhead(ModelEntity<?> entity, List<Object> keys, List<Asked> questions) {
            asked = Set.copyOf(keys);
            for (PartsAttribute parts : entity.parts()) {
                PartRows read = new PartRows(transaction, parts);
                all.put(parts, read);
                questions.add(new Asked(Causes.read(parts, keys.size()), read.select(keys), read::row));
            }
        }

        void end(List<Entry<?>> owners) {
            all.forEach((parts, read) -> {
                if (!asked.containsAll(read.owners()) || !owners.stream().allMatch(one -> asked.contains(one.key()))) {
                    readParts(parts, owners); // keys that are written otherwise, and are the same to the database
                    return;
                }
                Cohort cohort = tracker.newCohort();
                for (Entry<?> owner : owners) {
                    tracker.loader()
                            .parts(owner, parts, read.of(Objects.requireNonNull(owner.key())))
                            .forEach(cohort::add);
                }
            });
        }
    }

    /**
     * Reads the rows with some keys, as many as fit into one statement, and their parts in the same trip where that can be.
     *
     * @param select asks for the rows
     */
    <E> List<Entry<E>> read(CharSequence cause, ModelEntity<E> entity, SqlText select, List<Object> keys) {
        if (entity.parts().isEmpty()) {
            return read(cause, entity, select);
        }
        Reading<E> reading = new Reading<>(entity, null, (entry, result, index) -> {});
        List<Asked> asked = new ArrayList<>();
        asked.add(new Asked(cause, select, reading::row));
        PartsAhead parts = new PartsAhead(entity, keys, asked);
        if (!transaction.queryTogether(asked)) {
            return read(cause, entity, select);
        }
        parts.end(reading.upToDate);
        return reading.entries;
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
            readParts(parts, owners);
        }
    }

    private void readParts(PartsAttribute parts, List<Entry<?>> owners) {
        Cohort cohort = tracker.newCohort();
        for (Map.Entry<Entry<?>, List<@Nullable Object[]>> found :
                partRows(parts, owners).entrySet()) {
            tracker.loader().parts(found.getKey(), parts, found.getValue()).forEach(cohort::add);
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
        List<Object> keys = new ArrayList<>(owners.size());
        owners.forEach(owner -> keys.add(Objects.requireNonNull(owner.key())));
        PartRows read = rowsOf(attribute, keys);
        read.belong(Alike.asked(
                Set.copyOf(keys), read.owners(), some -> rowsOf(attribute, some).owners()));
        Map<Entry<?>, List<@Nullable Object[]>> rows = new LinkedHashMap<>();
        owners.forEach(owner -> rows.put(owner, read.of(Objects.requireNonNull(owner.key()))));
        return rows;
    }

    private PartRows rowsOf(PartsAttribute attribute, List<Object> keys) {
        PartRows read = new PartRows(transaction, attribute);
        for (List<Object> some :
                KeyedRows.chunks(keys, attribute.parts().owner().columns().size())) {
            transaction.query(Causes.read(attribute, some.size()), read.select(some), read::row);
        }
        return read;
    }
}
