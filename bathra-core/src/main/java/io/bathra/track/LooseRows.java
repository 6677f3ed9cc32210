package io.bathra.track;

import io.bathra.attr.Event;
import io.bathra.mapping.ModelEntity;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** The rows that are to be changed without having been read, one unit of work's. */
public final class LooseRows {
    private final Tracker tracker;
    private final Map<ModelEntity<?>, Map<Object, LooseRow>> rows = new LinkedHashMap<>();

    LooseRows(Tracker tracker) {
        this.tracker = tracker;
    }

    /** What is to become of a row that has not been read. */
    public LooseRow of(ModelEntity<?> entity, Object key) {
        return rows.computeIfAbsent(entity, e -> new LinkedHashMap<>())
                .computeIfAbsent(key, k -> new LooseRow(tracker, entity, k, tracker.nextNumber()));
    }

    /** In the order in which they came. */
    List<LooseRow> all() {
        if (rows.isEmpty()) {
            return List.of(); // as in nearly all units
        }
        List<LooseRow> all = new ArrayList<>();
        rows.values().forEach(own -> all.addAll(own.values()));
        return all;
    }

    /** Whether there are none, and never were any. */
    public boolean areNone() {
        return rows.isEmpty();
    }

    /** The keys of those whose change or removal somebody listens to. */
    public Map<ModelEntity<?>, List<Object>> heard() {
        Map<ModelEntity<?>, List<Object>> heard = new LinkedHashMap<>();
        for (LooseRow row : all()) {
            ModelEntity<?> entity = row.entry().entity();
            if (row.isPending() && entity.isHeard(row.isRemoved() ? Event.REMOVE : Event.UPDATE)) {
                heard.computeIfAbsent(entity, e -> new ArrayList<>())
                        .add(Objects.requireNonNull(row.entry().key()));
            }
        }
        return heard;
    }

    /** What is to become of a row, if anything. */
    Optional<LooseRow> find(Entry<?> entry) {
        Map<Object, LooseRow> own = rows.get(entry.entity());
        return own == null ? Optional.empty() : Optional.ofNullable(own.get(Objects.requireNonNull(entry.key())));
    }

    /** Nothing is to become of a row any more; tells what it was, if anything. */
    @Nullable
    LooseRow take(Entry<?> entry) {
        Map<Object, LooseRow> own = rows.get(entry.entity());
        return own == null ? null : own.remove(Objects.requireNonNull(entry.key()));
    }

    /** Nothing is to become of a row that will never have been. */
    void drop(RowKey row) {
        Map<Object, LooseRow> own = rows.get(row.entity());
        if (own != null) {
            own.remove(row.key());
        }
    }

    /** What was to become of a row is to become of it again, unless something else is to since. */
    void putBack(LooseRow row) {
        ModelEntity<?> entity = row.entry().entity();
        Object key = Objects.requireNonNull(row.entry().key());
        LooseRow since =
                rows.computeIfAbsent(entity, e -> new LinkedHashMap<>()).putIfAbsent(key, row);
        if (since != null) {
            since.takeOver(row);
        }
    }

    /** Nothing is to become of any. */
    public void clear() {
        rows.clear();
    }
}
