package io.bathra.read;

import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.Conflict;
import io.bathra.error.NoSuchRowException;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.track.Entry;
import io.bathra.track.Resetter;
import io.bathra.track.Tracker;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Brings in what was edited outside of the unit of work, and what others have stored meanwhile. */
public final class Outsiders {
    private final Tracker tracker;
    private final Transaction transaction;
    private final EntityReader reader;

    public Outsiders(Tracker tracker, Transaction transaction, EntityReader reader) {
        this.tracker = tracker;
        this.transaction = transaction;
        this.reader = reader;
    }

    /** Tracks an object that was read elsewhere; what differs from its row counts as changed. */
    public <E> void adopt(ModelEntity<E> entity, E object) {
        Object key = keyOf(entity, object);
        refuseSecond(entity, key, object);
        @Nullable Object[] row = rows(entity, List.of(key)).get(key);
        if (row == null) {
            throw new NoSuchRowException(
                    entity.describe(key) + " is not there any more, so it cannot be adopted; somebody removed it");
        }
        ColumnAttribute version = entity.version();
        Object own = version == null ? null : version.get(object);
        if (version != null && !Objects.equals(own, row[version.slot()])) {
            String lost = entity.describe(key) + " (version " + own + " was edited, but it has " + row[version.slot()]
                    + " now)";
            throw new ConcurrentChangeException("adopt", List.of(lost), List.of());
        }
        noteParts(entity, tracker.borders().adopt(entity, object, row));
    }

    /**
     * Tracks an object that was read elsewhere without a look at its row: its version will tell whether it is the same.
     */
    public <E> void adoptUnread(ModelEntity<E> entity, E object) {
        Object key = keyOf(entity, object);
        refuseSecond(entity, key, object);
        ColumnAttribute version = entity.version();
        Object own = version == null ? null : version.get(object);
        if (own == null) {
            throw new BathraException(entity.describe(key) + " has no version that could be trusted; "
                    + (version == null ? "declare one with version(...), or " : "")
                    + "adopt(...) it, which reads its row");
        }
        noteParts(entity, tracker.borders().adoptUnread(entity, object, own));
    }

    private void refuseSecond(ModelEntity<?> entity, Object key, Object object) {
        Entry<?> known = tracker.entry(entity, key);
        if (known != null) {
            throw new BathraException(entity.describe(key) + " is known to this unit of work as another object ("
                    + known.object() + "), so " + object
                    + " cannot be adopted as well; one row is one object: change that"
                    + " one, or forget(...) it first");
        }
    }

    private <E> void noteParts(ModelEntity<E> entity, Entry<E> entry) {
        for (PartsAttribute parts : entity.parts()) {
            for (Map.Entry<Entry<?>, List<@Nullable Object[]>> found :
                    reader.partRows(parts, List.of(entry)).entrySet()) {
                tracker.loader().noteParts(found.getKey(), parts, found.getValue());
            }
        }
    }

    private static Object keyOf(ModelEntity<?> entity, Object object) {
        if (!entity.keyAttributes().stream().allMatch(ColumnAttribute.class::isInstance)) {
            throw new BathraException(entity.name() + " has links in its key, so it cannot be adopted; read it here"
                    + " and carry(...) the values");
        }
        Object key = entity.keyOf(object);
        if (key == null) {
            throw new BathraException("a " + entity.name() + " without a key cannot be adopted; add(...) it");
        }
        return key;
    }

    /** Gives an entity the values of a form. */
    public void carry(Record values, Entry<?> entry, @Nullable Number expectedVersion) {
        ModelEntity<?> entity = entry.entity();
        ColumnAttribute version = entity.version();
        Map<ColumnAttribute, @Nullable Object> carried = new LinkedHashMap<>();
        for (RecordComponent component : values.getClass().getRecordComponents()) {
            Attribute attribute = entity.attribute(component.getName());
            if (!(attribute instanceof ColumnAttribute column) || column.isKey() || column == version) {
                throw new BathraException(values.getClass().getSimpleName() + "." + component.getName()
                        + " names no attribute of " + entity.name()
                        + " that a form may set; name its components like the"
                        + " columns that it changes");
            }
            Object value = valueOf(values, component);
            carried.put(column, value == null ? null : column.toStored(value));
        }
        if (expectedVersion != null) {
            refuseOtherVersion(entry, version, expectedVersion, carried);
        }
        carried.forEach((column, value) -> column.set(entry.object(), value));
    }

    private static void refuseOtherVersion(
            Entry<?> entry,
            @Nullable ColumnAttribute version,
            Number expected,
            Map<ColumnAttribute, @Nullable Object> wanted) {
        if (version == null) {
            throw new BathraException(entry.entity().name() + " has no version, so none can be expected; give null");
        }
        Number there = (Number) entry.before(version);
        if (there == null || there.longValue() != expected.longValue()) {
            List<Conflict> conflicts = new ArrayList<>();
            wanted.forEach((column, mine) -> {
                Object theirs = entry.before(column);
                if (!Objects.equals(column.shown(mine), column.shown(theirs))) { // what the form had shown nobody knows
                    conflicts.add(new Conflict(
                            entry.toString(), column.name(), null, column.shown(mine), column.shown(theirs)));
                }
            });
            String lost = entry + " (version " + expected + " was shown, but it has " + there + " now)";
            throw new ConcurrentChangeException("carry values to", List.of(lost), conflicts);
        }
    }

    private static @Nullable Object valueOf(Record values, RecordComponent component) {
        try {
            component.getAccessor().trySetAccessible();
            return component.getAccessor().invoke(values);
        } catch (IllegalAccessException | InvocationTargetException e) {
            throw new BathraException(
                    values.getClass().getName()
                            + " cannot be read; make it public, or open its package to io.bathra.core",
                    e);
        }
    }

    /** Brings entities up to date with rows that others have changed, where this unit has changed other attributes. */
    public void rebase(List<Entry<?>> pending) {
        Map<ModelEntity<?>, List<Entry<?>>> byEntity = new LinkedHashMap<>();
        pending.forEach(entry ->
                byEntity.computeIfAbsent(entry.entity(), e -> new ArrayList<>()).add(entry));
        List<String> lost = new ArrayList<>();
        List<Conflict> conflicts = new ArrayList<>();
        Resetter resetter = new Resetter(tracker);
        byEntity.forEach((entity, entries) -> {
            List<Object> keys = new ArrayList<>();
            entries.forEach(entry -> keys.add(Objects.requireNonNull(entry.key())));
            Map<Object, @Nullable Object[]> rows = rows(entity, keys);
            for (Entry<?> entry : entries) {
                @Nullable Object[] theirs = rows.get(entry.key());
                if (theirs == null) {
                    lost.add(entry + " (removed by somebody else)");
                    continue;
                }
                List<Conflict> both = resetter.rebase(entry, theirs);
                if (!both.isEmpty()) {
                    lost.add(entry + " (changed by both)");
                    conflicts.addAll(both);
                }
            }
        });
        if (!lost.isEmpty()) {
            throw new ConcurrentChangeException("rebase", lost, conflicts);
        }
    }

    /** Reads a row again, and gives its values to the object, whatever that has now. */
    public void refresh(Entry<?> entry) {
        Object key = Objects.requireNonNull(entry.key());
        @Nullable Object[] row = rows(entry.entity(), List.of(key)).get(key);
        if (row == null) {
            throw new NoSuchRowException(entry + " is not there any more; somebody removed it");
        }
        Resetter resetter = new Resetter(tracker);
        resetter.refresh(entry, row);
        resetter.readPairsAgain(entry);
        reader.readParts(entry.entity(), List.of(entry));
    }

    /** What is there now: under a snapshot of its own a database shows it to locking reads alone. */
    private Map<Object, @Nullable Object[]> rows(ModelEntity<?> entity, List<Object> keys) {
        Map<Object, @Nullable Object[]> rows = new HashMap<>();
        KeyedRows.readAgain(
                transaction,
                "read again",
                entity,
                keys,
                transaction.database().dialect().expressions().lockingRead(),
                row -> rows.put(Objects.requireNonNull(entity.keyIn(row)), row));
        return rows;
    }
}
