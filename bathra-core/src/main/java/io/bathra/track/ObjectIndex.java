package io.bathra.track;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Entries in the order in which they came, and by their objects. Many are read and few looked up by object, so they are
 * hashed when somebody asks: hashing by identity costs about as much as reading the row.
 */
final class ObjectIndex {
    /** So many objects are found as fast by looking at one after the other. */
    private static final int FEW = 8;

    private @Nullable Map<Object, Entry<?>> byObject;
    private List<Entry<?>> inOrder = List.of();

    /** How many of those in order are hashed. */
    private int hashed;

    /** Whether the order has to be made anew, since entries have gone or come back. */
    private boolean stale;

    /** Takes an entry that comes after all others. */
    void put(Entry<?> entry) {
        if (inOrder.isEmpty()) {
            inOrder = new ArrayList<>();
        }
        inOrder.add(entry);
    }

    /** Takes an entry that was here before. */
    void putBack(Entry<?> entry) {
        byObject().put(entry.object(), entry);
        stale = true;
    }

    @Nullable
    Entry<?> get(Object object) {
        if (byObject == null && inOrder.size() <= FEW) {
            for (int i = 0; i < inOrder.size(); i++) {
                if (inOrder.get(i).object() == object) {
                    return inOrder.get(i);
                }
            }
            return null;
        }
        return byObject().get(object);
    }

    void remove(Object object) {
        byObject().remove(object);
        stale = true;
    }

    /** Oldest first. */
    List<Entry<?>> entries() {
        if (stale) {
            inOrder = new ArrayList<>(byObject().values());
            inOrder.sort(Comparator.comparingInt(Entry::number));
            hashed = inOrder.size();
            stale = false;
        }
        return inOrder;
    }

    void clear() {
        byObject = null;
        inOrder = List.of();
        hashed = 0;
        stale = false;
    }

    private Map<Object, Entry<?>> byObject() {
        Map<Object, Entry<?>> objects = byObject;
        if (objects == null) {
            objects = new IdentityHashMap<>(Math.max(2 * FEW, inOrder.size()));
            byObject = objects;
        }
        while (hashed < inOrder.size()) {
            Entry<?> entry = inOrder.get(hashed++);
            objects.put(entry.object(), entry);
        }
        return objects;
    }
}
