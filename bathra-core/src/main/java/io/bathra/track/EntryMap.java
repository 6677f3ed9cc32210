package io.bathra.track;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/**
 * Values by entries that one flush writes, whose numbers all differ: an array by number. Hashing a hundred thousand
 * entries by identity would cost more than anything else that is done with them.
 */
public final class EntryMap<V> {
    private static final int FIRST_SIZE = 8;
    private static final @Nullable Entry<?>[] NO_ENTRIES = {};
    private static final @Nullable Object[] NO_VALUES = {};

    private @Nullable Entry<?>[] entries = NO_ENTRIES;
    private @Nullable Object[] values = NO_VALUES;

    public void put(Entry<?> entry, V value) {
        int place = entry.number();
        if (place >= entries.length) {
            int size = Math.max(Math.max(place + 1, FIRST_SIZE), entries.length * 2);
            entries = Arrays.copyOf(entries, size);
            values = Arrays.copyOf(values, size);
        }
        entries[place] = entry;
        values[place] = value;
    }

    /** The value of an entry, null when there is none; an entry with the number of another one has none. */
    @SuppressWarnings("unchecked") // only such values are put in
    public @Nullable V get(Entry<?> entry) {
        int place = entry.number();
        return place < entries.length && entries[place] == entry ? (V) values[place] : null;
    }

    public boolean contains(Entry<?> entry) {
        return get(entry) != null;
    }
}
