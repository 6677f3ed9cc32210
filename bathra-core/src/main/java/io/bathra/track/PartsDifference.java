package io.bathra.track;

import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PartsAttribute.Kind;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Change.Delete;
import io.bathra.track.Change.Insert;
import io.bathra.track.Change.Update;
import java.nio.ByteBuffer;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collections;
import java.util.Deque;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Finds what has changed in a collection of parts: as few rows as tell the difference. */
final class PartsDifference {
    private final Entry<?> owner;
    private final PartsAttribute attribute;
    private final List<Entry<HiddenRow>> old;
    private final List<@Nullable Object> parts;

    /** The row of each part: one that is there, or a new one. */
    private final @Nullable Entry<HiddenRow>[] rows;

    private final @Nullable Object[][] values;

    /** Parts in rows that stood elsewhere and held something else. */
    private final BitSet loose = new BitSet();

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
        return !owner.entity().parts().isEmpty()
                && add(owner, new Changes.Draft(owner.tracker().numbers()));
    }

    /** Whether a collection of parts differs from its rows. */
    static boolean isIn(Entry<?> owner, PartsAttribute attribute) {
        List<Entry<HiddenRow>> old = Objects.requireNonNullElse(owner.parts(attribute), List.of());
        List<@Nullable Object> parts = attribute.now(owner.object());
        if (unchanged(attribute, old, parts)) {
            return false;
        }
        Changes.Draft draft = new Changes.Draft(owner.tracker().numbers());
        new PartsDifference(owner, attribute, old, parts).find(draft);
        return !draft.isEmpty();
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
            if (!stored.isKey() && !stored.isManaged() && row.isChanged(stored)) {
                return true;
            }
        }
        return false;
    }

    private void find(Changes.Draft draft) {
        Map<Object, Deque<Entry<HiddenRow>>> byContent = new HashMap<>();
        for (Entry<HiddenRow> row : old) {
            byContent.computeIfAbsent(content(row), c -> new ArrayDeque<>()).add(row);
        }
        List<Entry<HiddenRow>> fresh = new ArrayList<>();
        for (int i = 0; i < rows.length; i++) {
            fresh.add(fresh(i, draft));
            values[i] = fresh.get(i).entity().stored().stream()
                    .map(fresh.get(i)::keptNow)
                    .toArray();
        }
        if (attribute.kind() == Kind.LIST) {
            keepEnds(byContent);
        }
        Deque<Integer> open = new ArrayDeque<>();
        for (int i = 0; i < rows.length; i++) {
            if (rows[i] == null) {
                Deque<Entry<HiddenRow>> same = byContent.get(content(values[i]));
                rows[i] = same == null ? null : same.poll();
            }
            if (rows[i] == null) {
                open.add(i);
            }
        }
        Set<Entry<HiddenRow>> left = Collections.newSetFromMap(new IdentityHashMap<>());
        byContent.values().forEach(left::addAll);
        reuse(open, old.stream().filter(left::contains).toList());
        for (int i = 0; i < rows.length; i++) {
            rows[i] = rows[i] == null ? fresh.get(i) : rows[i];
        }
        write(draft);
    }

    /** What a list begins and ends with stays where it is, so that of equal parts the right one goes. */
    private void keepEnds(Map<Object, Deque<Entry<HiddenRow>>> byContent) {
        int shorter = Math.min(old.size(), rows.length);
        int first = 0;
        while (first < shorter && keep(first, first, byContent)) {
            first++;
        }
        for (int back = 1; back <= shorter - first; back++) {
            if (!keep(old.size() - back, rows.length - back, byContent)) {
                return;
            }
        }
    }

    private boolean keep(int from, int index, Map<Object, Deque<Entry<HiddenRow>>> byContent) {
        Object content = content(old.get(from));
        if (!content.equals(content(values[index]))) {
            return false;
        }
        rows[index] = old.get(from);
        Objects.requireNonNull(byContent.get(content)).remove(old.get(from));
        return true;
    }

    private Entry<HiddenRow> fresh(int index, Changes.Draft draft) {
        HiddenRow row = attribute.row(owner.object(), parts.get(index), null);
        Entry<HiddenRow> entry =
                new Entry<>(owner.tracker(), attribute.parts().rows(), row, draft.nextNumber(), Entry.State.NEW);
        String place = "." + attribute.name() + "[" + index + "]";
        entry.ownedBy(owner, () -> place);
        return entry;
    }

    /**
     * Rows that are left over take the parts that have none: in a map the one of the same key, in a list one that
     * stands between the same neighbours, else the next one.
     */
    private void reuse(Deque<Integer> open, List<Entry<HiddenRow>> left) {
        StoredAttribute key = attribute.parts().key();
        StoredAttribute order = attribute.parts().order();
        if (key != null) {
            Map<Object, Entry<HiddenRow>> byKey = new HashMap<>();
            left.forEach(row -> byKey.put(Objects.requireNonNull(comparable(row.before(key))), row));
            open.forEach(index -> {
                Object wanted = comparable(values[index][key.slot()]);
                rows[index] = wanted == null ? null : byKey.remove(wanted);
            });
            return;
        }
        Deque<Entry<HiddenRow>> free = new ArrayDeque<>(left);
        if (order != null) {
            free = new ArrayDeque<>(betweenNeighbours(left, order));
        }
        for (int index : open) {
            if (rows[index] == null) {
                rows[index] = free.poll();
                loose.set(index); // its row is written anyway, so it may go anywhere
            }
        }
    }

    /** Gives back what fits nowhere. */
    private List<Entry<HiddenRow>> betweenNeighbours(List<Entry<HiddenRow>> left, StoredAttribute order) {
        TreeMap<Long, Entry<HiddenRow>> byPosition = new TreeMap<>();
        List<Entry<HiddenRow>> rest = new ArrayList<>();
        for (Entry<HiddenRow> row : left) {
            Entry<HiddenRow> other = byPosition.putIfAbsent(position(row, order), row);
            if (other != null) {
                rest.add(row);
            }
        }
        long[] next = new long[rows.length];
        long high = Long.MAX_VALUE;
        for (int i = rows.length - 1; i >= 0; i--) {
            next[i] = high;
            high = rows[i] == null ? high : position(rows[i], order);
        }
        long low = 0;
        for (int i = 0; i < rows.length; i++) {
            Map.Entry<Long, Entry<HiddenRow>> fits = rows[i] == null ? byPosition.higherEntry(low) : null;
            if (fits != null && fits.getKey() < next[i]) {
                rows[i] = byPosition.remove(fits.getKey());
            }
            low = rows[i] == null ? low : position(rows[i], order);
        }
        rest.addAll(byPosition.values());
        return rest;
    }

    private static long position(Entry<HiddenRow> row, StoredAttribute order) {
        return (Long) Objects.requireNonNull(row.before(order));
    }

    private void write(Changes.Draft draft) {
        int before = draft.size();
        StoredAttribute order = attribute.parts().order();
        long[] positions = order == null ? null : Positions.of(before(order));
        Set<Entry<?>> kept = Collections.newSetFromMap(new IdentityHashMap<>());
        for (int i = 0; i < rows.length; i++) {
            Entry<HiddenRow> row = Objects.requireNonNull(rows[i]);
            kept.add(row);
            if (order != null && positions != null) {
                values[i][order.slot()] = positions[i];
            }
            if (row.state() == Entry.State.NEW) {
                draft.inserts().add(new Insert(row, values[i]));
                continue;
            }
            values[i][0] = row.key();
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

    private List<@Nullable Long> before(StoredAttribute order) {
        List<@Nullable Long> before = new ArrayList<>(rows.length);
        for (int i = 0; i < rows.length; i++) {
            before.add(
                    loose.get(i) ? null : (Long) Objects.requireNonNull(rows[i]).before(order));
        }
        return before;
    }

    private static BitSet changed(Entry<HiddenRow> row, @Nullable Object[] now) {
        BitSet changed = new BitSet();
        for (StoredAttribute stored : row.entity().stored()) {
            changed.set(stored.slot(), !Entry.same(stored, row.before(stored), now[stored.slot()]));
        }
        return changed;
    }

    private Object content(Entry<HiddenRow> row) {
        return content(Objects.requireNonNull(row.snapshot()));
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
