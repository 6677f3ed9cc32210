package io.bathra.read;

import io.bathra.jdbc.Alike;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ModelEntity;
import io.bathra.sql.SqlText;
import io.bathra.text.Cause;
import io.bathra.track.Entry;
import io.bathra.track.Entry.State;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;

/** Finds entities by their keys; asks the database only for what is not here yet. */
public final class KeyFinder {
    private final ReadSide side;
    private final Transaction transaction;
    private final Tracker tracker;

    public KeyFinder(ReadSide side) {
        this.side = side;
        this.transaction = side.transaction();
        this.tracker = side.tracker();
    }

    /**
     * The key that a user has asked for, as the columns keep it.
     *
     * @throws IllegalArgumentException when the key is of another type than the entity's
     */
    public static Object key(ModelEntity<?> entity, Object given) {
        Object key = entity.keyShape().compared(given);
        String mismatch = entity.keyShape().mismatch(key);
        if (mismatch != null) {
            throw new IllegalArgumentException("the key of " + entity.name() + " " + mismatch);
        }
        return key;
    }

    /** The entity with a key, if there is one. */
    public <E> Optional<E> find(Class<E> type, Object given) {
        ModelEntity<E> entity = tracker.model().entity(type);
        Object key = key(entity, given);
        Cause cause = Causes.find(entity, key);
        Entry<?> known = tracker.entry(entity, key);
        if (known != null) {
            transaction.answeredFromMemory(cause);
            return known.state() == State.REMOVED ? Optional.empty() : Optional.of(type.cast(known.object()));
        }
        SqlText select = transaction.database().dialect().selects().row(entity, key);
        List<Entry<E>> read = side.reading(() -> side.reader().read(cause, entity, select, List.of(key)));
        return read.isEmpty() || read.get(0).state() == State.REMOVED
                ? Optional.empty()
                : Optional.of(read.get(0).object());
    }

    /**
     * Reads entities of several classes, in one trip where that can be, so that they need not be read when they are asked
     * for.
     *
     * @param wanted their keys by their class
     */
    public void read(Map<Class<?>, ? extends Collection<?>> wanted) {
        Map<ModelEntity<?>, List<Object>> unknown = new LinkedHashMap<>();
        wanted.forEach((type, given) -> {
            ModelEntity<?> entity = tracker.model().entity(type);
            Set<Object> keys = new LinkedHashSet<>();
            given.forEach(one -> keys.add(key(entity, one)));
            keys.removeIf(key -> tracker.entry(entity, key) != null);
            if (!keys.isEmpty()) {
                unknown.put(entity, List.copyOf(keys));
            }
        });
        boolean few = unknown.entrySet().stream()
                .allMatch(one -> KeyedRows.areFew(
                        one.getValue(), one.getKey().keyColumns().size()));
        boolean read =
                few && unknown.size() > 1 && side.reading(() -> side.reader().readTogether(unknown));
        if (!read) {
            unknown.forEach((entity, keys) -> read("find " + keys.size() + " of " + entity.name(), entity, keys));
        }
    }

    /** The entities with these keys, as far as they are there, in the order of the keys. */
    public <E> List<E> findAll(Class<E> type, Collection<?> given) {
        ModelEntity<E> entity = tracker.model().entity(type);
        List<Object> keys = new ArrayList<>();
        given.forEach(one -> keys.add(key(entity, one)));
        Set<Object> unknown = new LinkedHashSet<>();
        for (Object key : keys) {
            if (tracker.entry(entity, key) == null) {
                unknown.add(key);
            }
        }
        String cause = "find " + keys.size() + " of " + entity.name();
        if (unknown.isEmpty()) {
            transaction.answeredFromMemory(cause);
        }
        Map<Object, Object> alike =
                Alike.came(unknown, read(cause, entity, unknown), some -> read(cause, entity, some));
        List<E> found = new ArrayList<>();
        for (Object key : keys) {
            Entry<?> entry = tracker.entry(entity, alike.getOrDefault(key, key));
            if (entry != null && entry.state() != State.REMOVED) {
                found.add(type.cast(entry.object()));
            }
        }
        return found;
    }

    /** Reads entities, and gives the keys of those that are there. */
    private List<Object> read(CharSequence cause, ModelEntity<?> entity, Collection<Object> keys) {
        List<Object> there = new ArrayList<>();
        for (List<Object> some : KeyedRows.chunks(keys, entity.keyColumns().size())) {
            SqlText select = transaction.database().dialect().selects().rows(entity, some);
            side.reading(() -> side.reader().read(cause, entity, select, some))
                    .forEach(entry -> there.add(Objects.requireNonNull(entry.key())));
        }
        return there;
    }
}
