package io.bathra.track;

import java.util.ArrayList;
import java.util.Collection;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Entries by their objects. Many are read and few looked up by object, so new ones wait in a list and are hashed when somebody
 * asks: hashing by identity costs about as much as reading the row.
 */
final class ObjectIndex {
    private final Map<Object, Entry<?>> hashed = new IdentityHashMap<>();
    private final List<Entry<?>> waiting = new ArrayList<>();

    void put(Entry<?> entry) {
        waiting.add(entry);
    }

    @Nullable
    Entry<?> get(Object object) {
        return hashed().get(object);
    }

    void remove(Object object) {
        hashed().remove(object);
    }

    Collection<Entry<?>> entries() {
        return hashed().values();
    }

    void clear() {
        hashed.clear();
        waiting.clear();
    }

    private Map<Object, Entry<?>> hashed() {
        if (!waiting.isEmpty()) {
            for (Entry<?> entry : waiting) {
                hashed.put(entry.object(), entry);
            }
            waiting.clear();
        }
        return hashed;
    }
}
