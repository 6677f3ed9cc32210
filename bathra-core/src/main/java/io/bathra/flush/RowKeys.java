package io.bathra.flush;

import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Change;
import io.bathra.track.Change.Insert;
import io.bathra.track.Change.Update;
import io.bathra.track.Entry;
import io.bathra.track.EntryMap;
import java.util.Arrays;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** The rows that a flush writes, with the keys in them that new objects do not know yet. */
final class RowKeys {
    private final EntryMap<Object> drawnKeys = new EntryMap<>();

    /** Keys of new rows that are made of what the program assigned and of other keys. */
    private final EntryMap<Object> madeKeys = new EntryMap<>();

    /** A key was drawn for a new row. */
    void drawn(Entry<?> entry, Object key) {
        drawnKeys.put(entry, key);
    }

    /** The values of a row that a change writes, by slot; behind them the version that it is expected to have. */
    @Nullable
    Object[] row(Change change) {
        Entry<?> entry = change.entry();
        @Nullable
        Object[] values = change instanceof Insert insert
                ? insert.values()
                : change instanceof Update update ? update.values() : Objects.requireNonNull(entry.snapshot());
        ColumnAttribute version = entry.entity().version();
        @Nullable Object[] row = Arrays.copyOf(values, values.length + (version == null ? 0 : 1));
        if (version != null) {
            // A row that this very flush inserts, and then updates to close a ring, has the version that it was given.
            row[values.length] = entry.snapshot() == null ? values[version.slot()] : entry.before(version);
        }
        for (int slot = 0; slot < row.length; slot++) {
            if (row[slot] instanceof Entry<?> target) {
                row[slot] = keyOf(target);
            }
        }
        Object drawn = drawnKeys.get(entry);
        if (drawn != null) {
            row[0] = drawn;
        }
        return row;
    }

    /**
     * The key of a row: known already, drawn for this flush, or made of what the program assigned and of other keys.
     */
    Object keyOf(Entry<?> entry) {
        if (entry.key() != null) {
            return entry.key();
        }
        Object drawn = drawnKeys.get(entry);
        if (drawn != null) {
            return drawn;
        }
        Object made = madeKeys.get(entry);
        if (made != null) {
            return made;
        }
        ModelEntity<?> entity = entry.entity();
        @Nullable Object[] row = new Object[entity.stored().size()];
        for (StoredAttribute attribute : entity.keyAttributes()) {
            Object value = entry.now(attribute);
            row[attribute.slot()] = value instanceof Entry<?> target
                    ? keyOf(target)
                    : attribute.shape().kept(value);
        }
        Object key = Objects.requireNonNull(entity.keyIn(row), () -> entry + " has no key");
        madeKeys.put(entry, key);
        return key;
    }
}
