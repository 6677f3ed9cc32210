package io.bathra.track;

import io.bathra.attr.DeleteRule;
import io.bathra.mapping.LinkAttribute;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

/** Which tracked rows go along when others are removed, and which lose a link, by the delete rules of their links. */
final class TakenAlong {
    static final TakenAlong NOTHING = new TakenAlong();

    /** A link to a removed row, that becomes empty. */
    record Emptied(Entry<?> entry, LinkAttribute link) {}

    private record Dependent(Entry<?> entry, LinkAttribute link) {}

    /** Each with the removed row that it goes with. */
    private final Map<Entry<?>, Entry<?>> taken = new LinkedHashMap<>();

    /** Those that were pointed to what is removed since they were read, so that the database would leave them. */
    private final Set<Entry<?>> moved = new LinkedHashSet<>();

    private final List<Emptied> emptied = new ArrayList<>();

    private TakenAlong() {}

    /**
     * What goes along with these.
     *
     * @param removed rows that are removed for themselves
     */
    static TakenAlong with(Tracker tracker, Collection<Entry<?>> removed) {
        if (removed.isEmpty()) {
            return NOTHING;
        }
        TakenAlong along = new TakenAlong();
        Map<RowKey, List<Dependent>> dependents = new HashMap<>();
        for (Entry<?> entry : tracker.entries()) {
            for (LinkAttribute link :
                    entry.state() == Entry.State.STORED ? entry.entity().links() : List.<LinkAttribute>of()) {
                Object key = link.onDelete() == DeleteRule.RESTRICT ? null : entry.now(link);
                if (key != null) {
                    dependents
                            .computeIfAbsent(new RowKey(link.target(), key), k -> new ArrayList<>())
                            .add(new Dependent(entry, link));
                }
            }
        }
        Set<Entry<?>> seen = new HashSet<>(); // by the database
        Deque<Entry<?>> open = new ArrayDeque<>(removed);
        while (!open.isEmpty()) {
            Entry<?> gone = open.poll();
            RowKey key = new RowKey(gone.entity(), Objects.requireNonNull(gone.key()));
            for (Dependent dependent : dependents.getOrDefault(key, List.of())) {
                Entry<?> entry = dependent.entry();
                if (removed.contains(entry)) {
                    continue;
                }
                if (dependent.link().onDelete() == DeleteRule.CASCADE) {
                    if (!entry.isChanged(dependent.link())) {
                        seen.add(entry);
                    }
                    if (along.taken.putIfAbsent(entry, along.taken.getOrDefault(gone, gone)) == null) {
                        open.add(entry);
                    }
                } else {
                    along.emptied.add(new Emptied(entry, dependent.link()));
                }
            }
        }
        along.emptied.removeIf(link -> along.taken.containsKey(link.entry()));
        along.moved.addAll(along.taken.keySet());
        along.moved.removeAll(seen);
        along.moved.forEach(along.taken::remove);
        return along;
    }

    boolean takes(Entry<?> entry) {
        return taken.containsKey(entry);
    }

    Set<Entry<?>> moved() {
        return moved;
    }

    /** Whether an entry goes along, but has to be removed by itself. */
    boolean isMoved(Entry<?> entry) {
        return moved.contains(entry);
    }

    /** Whether a link of an entry becomes empty. */
    boolean empties(Entry<?> entry, LinkAttribute link) {
        return emptied.contains(new Emptied(entry, link));
    }

    Map<Entry<?>, Entry<?>> taken() {
        return taken;
    }

    List<Emptied> emptied() {
        return emptied;
    }
}
