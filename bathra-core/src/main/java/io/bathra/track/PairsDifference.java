package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.access.LinksDoor;
import io.bathra.attr.DeleteRule;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Change.Delete;
import io.bathra.track.Change.Insert;
import io.bathra.track.Change.Update;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Finds which pairs of pivots have come, gone or moved. Reads nothing: of unread links it sees what was put in and
 * taken out.
 */
final class PairsDifference {
    private final Changes.Draft draft;

    /** A pair that both sides know is written once. */
    private final Set<List<Object>> seen = new HashSet<>();

    PairsDifference(Changes.Draft draft) {
        this.draft = draft;
    }

    /** Whether any pivot of an entity has changed. */
    static boolean isIn(Entry<?> owner) {
        if (owner.entity().pivots().isEmpty()) {
            return false;
        }
        Changes.Draft draft = new Changes.Draft(owner.tracker().numbers());
        PairsDifference difference = new PairsDifference(draft);
        difference.add(owner, true);
        difference.add(owner, false);
        return !draft.isEmpty();
    }

    /** What was put in and taken out of a pivot, by the objects at the other end; null for nothing. */
    static Request.@Nullable Pairs of(Entry<?> owner, PivotAttribute pivot) {
        Object holder = pivot.holder(owner.object());
        List<Object> present = Doors.links().present(holder);
        List<Object> in = new ArrayList<>();
        List<Object> out = new ArrayList<>();
        if (!Doors.links().isRead(holder)) {
            in.addAll(present);
            out.addAll(Doors.links().taken(holder));
            return in.isEmpty() && out.isEmpty() ? null : new Request.Pairs(owner, pivot, in, out, null);
        }
        Map<Object, @Nullable Long> before = Objects.requireNonNullElse(owner.pairs(pivot), Map.of());
        Set<Object> now = new HashSet<>();
        for (Object element : present) {
            Entry<?> target = owner.tracker().entryOf(element);
            Object value = owner.tracker().targetValue(element);
            now.add(value);
            if (!before.containsKey(value) && (target == null || target.state() != State.REMOVED)) {
                in.add(element);
            }
        }
        for (Object key : before.keySet()) {
            Entry<?> target = owner.tracker().entry(pivot.target(), key);
            if (!now.contains(key) && target != null) {
                out.add(target.object());
            }
        }
        boolean moved = pivot.order() != null
                && !positions(pivot, before, values(owner, present)).equals(before);
        return in.isEmpty() && out.isEmpty() && !moved
                ? null
                : new Request.Pairs(owner, pivot, in, out, pivot.order() == null ? null : present);
    }

    /**
     * Adds what has changed in the pivots of an entity.
     *
     * @param declaring which of them: those that it declares, and whose order it knows, or those of the other sides
     */
    void add(Entry<?> owner, boolean declaring) {
        for (PivotAttribute pivot : owner.entity().pivots()) {
            if (pivot.isDeclaring() == declaring) {
                add(owner, pivot);
            }
        }
    }

    /** Adds the pairs that a removed owner was taken out of, where they do not go with it by themselves. */
    void addTaken(Entry<?> owner) {
        for (PivotAttribute pivot : owner.entity().pivots()) {
            if (pivot.near().onDelete() == DeleteRule.RESTRICT) {
                Object holder = pivot.holder(owner.object());
                for (Object element : Doors.links().taken(holder)) {
                    Entry<?> target = owner.tracker().entryOf(element);
                    if (target != null && target.key() != null) {
                        delete(owner, pivot, target.key());
                    }
                }
                List<Object> now = values(owner, Doors.links().present(holder));
                for (Object key : Objects.requireNonNullElse(owner.pairs(pivot), Map.<Object, Long>of())
                        .keySet()) {
                    if (!now.contains(key)) {
                        delete(owner, pivot, key);
                    }
                }
            }
        }
    }

    private void add(Entry<?> owner, PivotAttribute pivot) {
        LinksDoor door = Doors.links();
        Object holder = pivot.holder(owner.object());
        List<Object> elements = door.present(holder);
        if (!door.isRead(holder)) {
            List<Object> taken = door.taken(holder);
            if (elements.isEmpty() && taken.isEmpty()) {
                return;
            }
            values(owner, elements).forEach(element -> insert(owner, pivot, element, null));
            for (Object element : taken) {
                Entry<?> target = owner.tracker().entryOf(element);
                if (target != null && target.key() != null) {
                    delete(owner, pivot, Objects.requireNonNull(target.key()));
                }
            }
            draft.settlements().add(new Settlement.OfPairs(owner, pivot, null));
            return;
        }
        Map<Object, @Nullable Long> before = Objects.requireNonNullElse(owner.pairs(pivot), Map.of());
        if (elements.isEmpty() && before.isEmpty()) {
            return;
        }
        compare(owner, pivot, before, values(owner, elements));
    }

    private void compare(Entry<?> owner, PivotAttribute pivot, Map<Object, @Nullable Long> before, List<Object> now) {
        Map<Object, @Nullable Long> after = positions(pivot, before, now);
        after.forEach((element, position) -> {
            if (!before.containsKey(element)) {
                insert(owner, pivot, element, position);
            } else if (!Objects.equals(before.get(element), position)) {
                move(owner, pivot, element, before.get(element), position);
            }
        });
        for (Object key : before.keySet()) {
            if (!after.containsKey(key)) {
                delete(owner, pivot, key);
            }
        }
        if (!after.equals(before)) {
            draft.settlements().add(new Settlement.OfPairs(owner, pivot, after));
        }
    }

    /** Those that stand in their old order keep their places; a pivot without order has none. */
    private static Map<Object, @Nullable Long> positions(
            PivotAttribute pivot, Map<Object, @Nullable Long> before, List<Object> now) {
        Map<Object, @Nullable Long> after = new LinkedHashMap<>();
        List<Object> old = new ArrayList<>(before.keySet());
        if (pivot.order() == null || now.equals(old)) {
            now.forEach(element -> after.put(element, before.get(element)));
            return after;
        }
        List<@Nullable Long> numbers = new ArrayList<>();
        now.forEach(element -> numbers.add(before.get(element)));
        long[] positions = Positions.of(numbers);
        for (int i = 0; i < positions.length; i++) {
            after.put(now.get(i), positions[i]);
        }
        return after;
    }

    /** What the elements are in a row of the pivot, without those that are to be removed. */
    private static List<Object> values(Entry<?> owner, List<Object> elements) {
        List<Object> values = new ArrayList<>(elements.size());
        for (Object element : elements) {
            Entry<?> target = owner.tracker().entryOf(element);
            boolean stranger = target == null && !owner.tracker().isGone(element);
            if (stranger || (target != null && (target.state() == State.NEW || target.state() == State.STORED))) {
                values.add(owner.tracker().targetValue(element));
            }
        }
        return values;
    }

    private void insert(Entry<?> owner, PivotAttribute pivot, Object element, @Nullable Long position) {
        if (draft.isLeaving(owner, pivot, element)) {
            return; // a pair with what is removed at the same time
        }
        Entry<HiddenRow> row = row(owner, pivot, element, State.NEW);
        @Nullable Object[] values = values(owner, pivot, element, position);
        if (seen.add(pair(row.entity(), values))) {
            draft.inserts().add(new Insert(row, values));
        }
    }

    private void move(
            Entry<?> owner, PivotAttribute pivot, Object element, @Nullable Long before, @Nullable Long position) {
        Entry<HiddenRow> row = stored(owner, pivot, element, before);
        @Nullable Object[] values = values(owner, pivot, element, position);
        BitSet changed = new BitSet();
        changed.set(Objects.requireNonNull(pivot.order()).slot());
        draft.updates().add(new Update(row, changed, values));
    }

    private void delete(Entry<?> owner, PivotAttribute pivot, Object key) {
        Entry<HiddenRow> row = stored(owner, pivot, key, null);
        if (seen.add(pair(row.entity(), Objects.requireNonNull(row.snapshot())))) {
            draft.deletes().add(new Delete(row));
        }
    }

    private static List<Object> pair(ModelEntity<?> rows, @Nullable Object[] values) {
        return List.of(rows, Objects.requireNonNull(values[0]), Objects.requireNonNull(values[1]));
    }

    private Entry<HiddenRow> stored(Entry<?> owner, PivotAttribute pivot, Object element, @Nullable Long position) {
        Entry<HiddenRow> row = row(owner, pivot, element, State.STORED);
        @Nullable Object[] values = values(owner, pivot, element, position);
        row.stand(State.STORED, row.entity().keyIn(values), values);
        return row;
    }

    private Entry<HiddenRow> row(Entry<?> owner, PivotAttribute pivot, Object element, State state) {
        ModelEntity<HiddenRow> rows = pivot.pivot().rows();
        Entry<HiddenRow> row = new Entry<>(owner.tracker(), rows, rows.instantiate(), draft.nextNumber(), state);
        row.ownedBy(owner, () -> {
            boolean known = !(element instanceof Entry<?>) && !(element instanceof Stranger);
            return "." + pivot.name() + "[" + (known ? pivot.target().describe(element) : element) + "]";
        });
        return row;
    }

    private static @Nullable Object[] values(
            Entry<?> owner, PivotAttribute pivot, Object element, @Nullable Long position) {
        List<StoredAttribute> stored = pivot.pivot().rows().stored();
        @Nullable Object[] values = new Object[stored.size()];
        values[pivot.near().slot()] = owner.tracker().targetValue(owner.object());
        values[pivot.far().slot()] = element;
        if (pivot.order() != null) {
            values[pivot.order().slot()] = position;
        }
        return values;
    }
}
