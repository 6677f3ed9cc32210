package io.bathra.read;

import io.bathra.mapping.ModelEntity;
import io.bathra.sql.Overlay;
import io.bathra.sql.Place;
import io.bathra.track.Entry;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Pending rows as a query sees them, and the way back from its answer to the objects that are pending.
 *
 * @param overlay what the query sees
 * @param byNumber the pending objects
 * @param stored rows that the query sees otherwise than they are stored, and of which nobody has an object
 * @param standIns keys of new rows, which stand in for those that are drawn when they are stored
 */
public record Overlaid(
        Overlay overlay,
        Map<Integer, Entry<?>> byNumber,
        Map<ModelEntity<?>, Map<Object, @Nullable Object[]>> stored,
        Set<Object> standIns) {
    /** How many columns a row of an entity has behind its own. */
    int more(ModelEntity<?> entity) {
        return overlay.covers(entity) ? 1 : 0;
    }

    /**
     * The pending object that a row shows; null for a row that is stored.
     *
     * @param index where the number stands
     */
    @Nullable
    Entry<?> pending(ModelEntity<?> entity, ResultSet result, int index) throws SQLException {
        if (!overlay.covers(entity)) {
            return null;
        }
        int number = result.getInt(index);
        return result.wasNull() ? null : Objects.requireNonNull(byNumber.get(number));
    }

    /** A row as it is stored. */
    @Nullable
    Object[] asStored(ModelEntity<?> entity, @Nullable Object[] row) {
        @Nullable Object[] kept = stored.getOrDefault(entity, Map.of()).get(Objects.requireNonNull(entity.keyIn(row)));
        return kept == null ? row : kept;
    }

    /** Takes away the keys that new rows do not have so far. */
    void hideStandIns(List<Place> places, @Nullable Object[] values) {
        for (int i = 0; i < values.length; i++) {
            Place place = places.get(i);
            boolean key = place.column() != null
                    && (place.column().attribute().isKey()
                            || place.column().attribute().isLink());
            if (key && values[i] != null && standIns.contains(values[i])) {
                values[i] = null;
            }
        }
    }
}
