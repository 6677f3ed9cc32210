package io.bathra.track;

import io.bathra.mapping.ModelEntity;
import io.bathra.track.Entry.State;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The entries of one unit of work, by their objects and by their keys: one object for each row. */
final class IdentityMap {
    private final Journal journal;
    private final Map<ModelEntity<?>, KeyIndex> byKey = new HashMap<>();
    private @Nullable ModelEntity<?> lastEntity;
    private @Nullable KeyIndex lastKeys;
    private final ObjectIndex byObject = new ObjectIndex();

    /** Objects that were removed here; whoever still holds one holds nothing. */
    private Set<Object> gone = Set.of(); // nothing is removed in most units

    IdentityMap(Journal journal) {
        this.journal = journal;
    }

    @Nullable
    Entry<?> get(Object object) {
        return byObject.get(object);
    }

    @Nullable
    Entry<?> get(ModelEntity<?> entity, Object key) {
        return keysOf(entity).get(key);
    }

    /** The live entries, oldest first. */
    List<Entry<?>> entries() {
        return byObject.entries();
    }

    /** Rows of one entity come after one another, so its map is kept at hand. */
    private KeyIndex keysOf(ModelEntity<?> entity) {
        KeyIndex keys = lastKeys;
        if (keys == null || lastEntity != entity) {
            keys = byKey.computeIfAbsent(entity, e -> new KeyIndex());
            lastKeys = keys;
            lastEntity = entity;
        }
        return keys;
    }

    /** Whether no row of an entity is known. */
    boolean knowsNone(ModelEntity<?> entity) {
        return keysOf(entity).isEmpty();
    }

    // ---- coming

    /** Takes an entry that comes after all others; tells whether its object had gone. */
    boolean arrived(Entry<?> entry) {
        boolean wasGone = !gone.isEmpty() && gone.remove(entry.object());
        byObject.put(entry);
        return wasGone;
    }

    /** The entry has a key that no other one has, so that nobody need look for one. */
    void knownAnew(Entry<?> entry) {
        keysOf(entry.entity()).append(entry);
    }

    /** The entry has a key from now on. */
    void known(Entry<?> entry) {
        keysOf(entry.entity()).put(entry);
        if (journal.isOn()) { // this is done for each row
            journal.add(() -> unknown(entry));
        }
    }

    /** The entry is not known by its key any more. */
    void unknown(Entry<?> entry) {
        if (keysOf(entry.entity()).has(entry)) {
            keysOf(entry.entity()).remove(Objects.requireNonNull(entry.key()));
        }
    }

    // ---- going

    /** An entry goes; its object is one that was removed here. */
    void forget(Entry<?> entry) {
        boolean known = keysOf(entry.entity()).has(entry);
        entry.become(State.GONE);
        byObject.remove(entry.object());
        isGoing(entry.object());
        unknown(entry);
        journal.add(() -> comeBack(entry, known));
    }

    /** A removed object is a stranger from now on, like any other. */
    void isStranger(Object object) {
        if (!gone.isEmpty() && gone.remove(object)) {
            journal.add(() -> isGoing(object));
        }
    }

    private void isGoing(Object object) {
        gone = gone.isEmpty() ? Collections.newSetFromMap(new IdentityHashMap<>()) : gone;
        gone.add(object);
    }

    boolean isGone(Object object) {
        return !gone.isEmpty() && gone.contains(object);
    }

    /** An entry that had gone is live again. */
    void comeBack(Entry<?> entry, boolean withKey) {
        byObject.putBack(entry);
        entry.tieHolders(); // another entry may have stood for the object meanwhile
        if (!gone.isEmpty()) {
            gone.remove(entry.object());
        }
        if (withKey) {
            keysOf(entry.entity()).put(entry);
        }
    }

    /** The journal has gone back beyond the moment at which an object came. */
    void neverCame(Entry<?> entry, boolean wasGone) {
        if (byObject.get(entry.object()) == entry) {
            byObject.remove(entry.object());
        }
        unknown(entry);
        entry.become(State.GONE);
        if (wasGone) {
            isGoing(entry.object());
        }
    }

    void clear() {
        byObject.clear();
        byKey.clear();
        lastEntity = null;
        lastKeys = null;
    }
}
