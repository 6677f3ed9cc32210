package io.bathra.track;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Entries of one entity by their keys. A table of entries alone: a node for each would cost a fifth of what is
 * remembered of a row. Open addressing with linear probing, and removal by moving back what follows (Knuth, The Art of
 * Computer Programming, volume 3, section 6.4, algorithm R).
 */
final class KeyIndex {
    private static final int FIRST_SIZE = 4; // most units know one or two rows of an entity

    private @Nullable Entry<?>[] table = new Entry<?>[FIRST_SIZE];
    private int size;

    /** Entries whose keys are known to be new; they are put into the table when somebody looks for one. */
    private List<Entry<?>> waiting = List.of();

    boolean isEmpty() {
        return size == 0 && waiting.isEmpty();
    }

    /** Takes an entry whose key no other one has. */
    void append(Entry<?> entry) {
        if (waiting.isEmpty()) {
            waiting = new ArrayList<>();
        }
        waiting.add(entry);
    }

    private void letIn() {
        if (!waiting.isEmpty()) {
            List<Entry<?>> coming = waiting;
            waiting = List.of();
            while (size + coming.size() > table.length / 3 * 2) {
                grow();
            }
            coming.forEach(this::put);
        }
    }

    @Nullable
    Entry<?> get(Object key) {
        letIn();
        return table[place(key)];
    }

    /** Whether an entry is here, and not another one of its key. */
    boolean has(Entry<?> entry) {
        Object key = entry.key();
        return key != null && get(key) == entry;
    }

    /** Puts an entry where its key belongs, in place of another one with the same key. */
    void put(Entry<?> entry) {
        letIn();
        int place = place(keyOf(entry));
        if (table[place] == null && ++size > table.length / 3 * 2) {
            grow();
            place = place(keyOf(entry));
        }
        table[place] = entry;
    }

    void remove(Object key) {
        letIn();
        int free = place(key);
        if (table[free] == null) {
            return;
        }
        size--;
        int mask = table.length - 1;
        int next = free;
        while (true) {
            table[free] = null;
            Entry<?> moved;
            int home;
            do {
                next = (next + 1) & mask;
                moved = table[next];
                if (moved == null) {
                    return;
                }
                home = spread(keyOf(moved)) & mask;
            } while (free <= next ? free < home && home <= next : free < home || home <= next);
            table[free] = moved;
            free = next;
        }
    }

    /** Where the entry with a key is, or would be put. */
    private int place(Object key) {
        int mask = table.length - 1;
        int place = spread(key) & mask;
        for (Entry<?> there = table[place]; there != null && !key.equals(there.key()); there = table[place]) {
            place = (place + 1) & mask;
        }
        return place;
    }

    private void grow() {
        @Nullable Entry<?>[] before = table;
        table = new Entry<?>[before.length * 2];
        if (size == 0) {
            return;
        }
        int mask = table.length - 1;
        for (Entry<?> entry : before) {
            if (entry != null) {
                int place = spread(keyOf(entry)) & mask;
                while (table[place] != null) { // all keys differ, so they need not be compared
                    place = (place + 1) & mask;
                }
                table[place] = entry;
            }
        }
    }

    private static Object keyOf(Entry<?> entry) {
        return Objects.requireNonNull(entry.key());
    }

    /** Keys that follow one another stay neighbours; the higher bits have their say as well. */
    private static int spread(Object key) {
        int hash = key.hashCode();
        return hash ^ hash >>> 16;
    }
}
