package io.bathra.track;

import io.bathra.model.HiddenRow;
import io.bathra.model.LinkAttribute;
import io.bathra.model.PartsAttribute;
import io.bathra.model.StoredAttribute;
import io.bathra.track.Change.Delete;
import io.bathra.track.Change.Insert;
import io.bathra.track.Change.Update;
import java.nio.ByteBuffer;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collections;
import java.util.Deque;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Finds what has changed in a collection of parts: as few rows as tell the difference. */
final class PartsDifference {
    private final Entry<?> owner;
    private final PartsAttribute attribute;
    private final List<Entry<HiddenRow>> old;
    private final List<@Nullable Object> parts;

    /** The row of each part: one that is there, or a new one. */
    private final Entry<HiddenRow>[] rows;

    private final @Nullable Object[][] values;

    @SuppressWarnings({"unchecked", "rawtypes"}) // an array of a generic type
    private PartsDifference(
            Entry<?> owner, PartsAttribute attribute, List<Entry<HiddenRow>> old, List<@Nullable Object> parts) {
        this.owner = owner;
        this.attribute = attribute;
        this.old = old;
        this.parts = parts;
        this.rows = new Entry[parts.size()];
        this.values = new Object[parts.size()][];
    }

    /** Whether any collection of parts of an entity differs from its rows. */
    static boolean isIn(Entry<?> owner) {
        for (PartsAttribute attribute : owner.entity().parts()) {
            List<Entry<HiddenRow>> old = Objects.requireNonNullElse(owner.parts(attribute), List.of());
            List<@Nullable Object> parts = attribute.now(owner.object());
            if (!unchanged(attribute, old, parts)) {
                Changes.Draft draft = new Changes.Draft(owner.tracker().numbers());
                new PartsDifference(owner, attribute, old, parts).find(draft);
                if (!draft.isEmpty()) {
                    return true;
                }
            }
        }
        return false;
    }

    /** Adds what has changed in the parts of an entity; tells whether anything has. */
    static boolean add(Entry<?> owner, Changes.Draft draft) {
        int before = draft.size();
        for (PartsAttribute attribute : owner.entity().parts()) {
            List<Entry<HiddenRow>> old = Objects.requireNonNullElse(owner.parts(attribute), List.of());
            List<@Nullable Object> parts = attribute.now(owner.object());
            if (!unchanged(attribute, old, parts)) {
                new PartsDifference(owner, attribute, old, parts).find(draft);
            }
        }
        return draft.size() > before;
    }

    /** A quick look at parts in their old order; false when a closer one is needed. */
    private static boolean unchanged(
            PartsAttribute attribute, List<Entry<HiddenRow>> old, List<@Nullable Object> parts) {
        if (old.size() != parts.size()) {
            return false;
        }
        for (int i = 0; i < parts.size(); i++) {
            if (!attribute.holds(old.get(i).object(), parts.get(i)) || hasChanged(old.get(i))) {
                return false;
            }
        }
        return true;
    }

    /** Whether a row is as it was. */
    static boolean sameRow(Entry<HiddenRow> one, @Nullable Object[] now) {
        return changed(one, now).isEmpty();
    }

    private static boolean hasChanged(Entry<HiddenRow> row) {
        for (StoredAttribute stored : row.entity().stored()) {
            if (!stored.isKey() && row.isChanged(stored)) {
                return true;
            }
        }
        return false;
    }

    private void find(Changes.Draft draft) {
        Map<Object, Deque<Entry<HiddenRow>>> byContent = new HashMap<>();
        for (Entry<HiddenRow> row : old) {
            byContent
                    .computeIfAbsent(content(Objects.requireNonNull(row.snapshot)), c -> new ArrayDeque<>())
                    .add(row);
        }
        Deque<Integer> open = new ArrayDeque<>();
        for (int i = 0; i < rows.length; i++) {
            Entry<HiddenRow> fresh = fresh(i, draft);
            values[i] = fresh.entity().stored().stream().map(fresh::keptNow).toArray();
            Deque<Entry<HiddenRow>> same = byContent.get(content(values[i]));
            if (same != null && !same.isEmpty()) {
                rows[i] = same.poll();
            } else {
                rows[i] = fresh;
                open.add(i);
            }
        }
        reuse(open, byContent);
        write(draft);
    }

    private Entry<HiddenRow> fresh(int index, Changes.Draft draft) {
        HiddenRow row = attribute.row(owner.object(), parts.get(index), null);
        Entry<HiddenRow> entry =
                new Entry<>(owner.tracker(), attribute.parts().rows(), row, draft.nextNumber(), Entry.State.NEW);
        String place = "." + attribute.name() + "[" + index + "]";
        entry.place = () -> owner + place;
        return entry;
    }

    /** Rows that are left over take the parts that have none: the one of the same key in a map, else the next one. */
    private void reuse(Deque<Integer> open, Map<Object, Deque<Entry<HiddenRow>>> byContent) {
        Set<Entry<HiddenRow>> left = new LinkedHashSet<>();
        Set<Entry<HiddenRow>> free = Collections.newSetFromMap(new IdentityHashMap<>());
        byContent.values().forEach(free::addAll);
        old.stream().filter(free::contains).forEach(left::add);
        StoredAttribute key = attribute.parts().key();
        if (key == null) {
            for (Entry<HiddenRow> row : left) {
                Integer index = open.poll();
                if (index == null) {
                    return;
                }
                rows[index] = row;
            }
            return;
        }
        Map<Object, Entry<HiddenRow>> byKey = new HashMap<>();
        left.forEach(row -> byKey.put(comparable(row.before(key)), row));
        for (int index : open) {
            Entry<HiddenRow> row = byKey.remove(comparable(values[index][key.slot()]));
            if (row != null) {
                rows[index] = row;
            }
        }
    }

    private void write(Changes.Draft draft) {
        int before = draft.size();
        StoredAttribute order = attribute.parts().order();
        long[] positions = order == null
                ? null
                : Positions.of(
                        Arrays.stream(rows).map(row -> (Long) row.before(order)).toList());
        Set<Entry<?>> kept = Collections.newSetFromMap(new IdentityHashMap<>());
        for (int i = 0; i < rows.length; i++) {
            Entry<HiddenRow> row = rows[i];
            kept.add(row);
            if (order != null && positions != null) {
                values[i][order.slot()] = positions[i];
            }
            if (row.state == Entry.State.NEW) {
                draft.inserts().add(new Insert(row, values[i]));
                continue;
            }
            values[i][0] = row.key;
            BitSet changed = changed(row, values[i]);
            if (!changed.isEmpty()) {
                draft.updates().add(new Update(row, changed, values[i]));
            }
        }
        old.stream()
                .filter(row -> !kept.contains(row))
                .forEach(row -> draft.deletes().add(new Delete(row)));
        if (draft.size() > before) {
            draft.settlements().add(new Settlement.OfParts(owner, attribute, List.of(rows), parts, positions));
        }
    }

    private static BitSet changed(Entry<HiddenRow> row, @Nullable Object[] now) {
        BitSet changed = new BitSet();
        for (StoredAttribute stored : row.entity().stored()) {
            Object before = row.before(stored);
            boolean same = stored instanceof LinkAttribute
                    ? Objects.equals(before, now[stored.slot()])
                    : stored.shape().same(before, now[stored.slot()]);
            changed.set(stored.slot(), !same);
        }
        return changed;
    }

    /** What a row holds for the domain, as something that can be looked up. */
    private Object content(@Nullable Object[] row) {
        List<@Nullable Object> content = new ArrayList<>();
        for (StoredAttribute stored : attribute.parts().rows().stored()) {
            boolean hidden = stored.isKey()
                    || stored == attribute.parts().owner()
                    || stored == attribute.parts().order();
            if (!hidden) {
                content.add(comparable(row[stored.slot()]));
            }
        }
        return content;
    }

    private static @Nullable Object comparable(@Nullable Object value) {
        if (value instanceof byte[] bytes) {
            return ByteBuffer.wrap(bytes);
        }
        return value instanceof List<?> list
                ? list.stream().map(PartsDifference::comparable).toList()
                : value;
    }
}
