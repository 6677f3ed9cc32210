package io.bathra.plan;

import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.track.Change;
import io.bathra.track.Change.Delete;
import io.bathra.track.Change.Insert;
import io.bathra.track.Change.Update;
import io.bathra.track.Entry;
import io.bathra.track.EntryMap;
import io.bathra.track.RowKey;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Which row has to be written before which other, and why. Nodes are changes, by their place in a list. */
final class RowGraph {
    /**
     * A reason why one row comes before another.
     *
     * @param before the node that comes first
     * @param after the node that waits for it
     * @param attribute the link that leads from one to the other, or the unique attribute whose value changes hands
     * @param unique the constraint whose value changes hands; null where a link is the reason
     */
    record Edge(
            int before,
            int after,
            StoredAttribute attribute,
            @Nullable UniqueKey unique) {
        boolean isUnique() {
            return unique != null;
        }
    }

    private final List<Change> changes;
    private final List<Edge> edges = new ArrayList<>();
    private final EntryMap<Integer> inserts = new EntryMap<>();
    private final Map<RowKey, Integer> deletes = new HashMap<>();

    /** Updates that take links or unique values out of rows for the moment, to break a ring. */
    private final Map<Entry<?>, Integer> releases = new IdentityHashMap<>();

    private final Map<UniqueKey, Map<Object, Integer>> freed = new HashMap<>();

    private RowGraph(List<Change> changes) {
        this.changes = changes;
    }

    /**
     * The edges between changes.
     *
     * @param taken rows that go with one of those that are deleted
     */
    static List<Edge> edges(List<Change> changes, Map<Entry<?>, Entry<?>> taken) {
        RowGraph graph = new RowGraph(changes);
        for (int node = 0; node < changes.size(); node++) {
            graph.offer(node);
        }
        taken.forEach(graph::offerTaken);
        for (int node = 0; node < changes.size(); node++) {
            graph.connect(node);
        }
        return graph.edges;
    }

    /** Notes what the change provides or frees for others. */
    private void offer(int node) {
        Change change = changes.get(node);
        Entry<?> entry = change.entry();
        if (change instanceof Insert) {
            inserts.put(entry, node);
            return;
        }
        if (change instanceof Update update && update.temporary()) {
            releases.put(entry, node);
        }
        if (change instanceof Delete) {
            deletes.put(new RowKey(entry.entity(), Objects.requireNonNull(entry.key())), node);
        }
        for (UniqueKey unique : entry.entity().uniqueKeys()) {
            Object before = writes(change, unique) ? unique.value(entry::before) : null;
            if (before != null) {
                freed.computeIfAbsent(unique, u -> new HashMap<>()).put(before, node);
            }
        }
    }

    /** What goes along with a deleted row goes, and frees its values, at the same time. */
    private void offerTaken(Entry<?> entry, Entry<?> with) {
        Integer node = deletes.get(new RowKey(with.entity(), Objects.requireNonNull(with.key())));
        if (node == null) {
            return;
        }
        deletes.putIfAbsent(new RowKey(entry.entity(), Objects.requireNonNull(entry.key())), node);
        for (UniqueKey unique : entry.entity().uniqueKeys()) {
            Object before = unique.value(entry::before);
            if (before != null) {
                freed.computeIfAbsent(unique, u -> new HashMap<>()).putIfAbsent(before, node);
            }
        }
    }

    private void connect(int node) {
        Change change = changes.get(node);
        Integer own = change instanceof Update ? inserts.get(change.entry()) : null;
        Integer release = releases.get(change.entry());
        if (release != null && release != node) {
            Update temporary = (Update) changes.get(release);
            StoredAttribute parked =
                    change.entry().entity().stored().get(temporary.changed().nextSetBit(0));
            edges.add(new Edge(release, node, parked, null));
        }
        for (StoredAttribute attribute : change.entry().entity().stored()) {
            if (!writes(change, attribute)) {
                continue;
            }
            if (own != null) {
                edges.add(new Edge(own, node, attribute, null));
            }
            Object after = valueOf(change, attribute);
            if (attribute instanceof LinkAttribute link) {
                Integer parent = after instanceof Entry<?> target ? inserts.get(target) : null;
                if (parent != null && parent != node) {
                    edges.add(new Edge(parent, node, link, null));
                }
                Object before = change.entry().before(link);
                Integer leaving = before == null ? null : deletes.get(new RowKey(link.target(), before));
                if (leaving != null && leaving != node) {
                    boolean released = change instanceof Delete && isReleased(change.entry(), link);
                    if (!released) {
                        edges.add(new Edge(node, leaving, link, null));
                    }
                }
            }
        }
        for (UniqueKey unique : change.entry().entity().uniqueKeys()) {
            Map<Object, Integer> values = writes(change, unique) ? freed.get(unique) : null;
            Object after = values == null ? null : unique.value(attribute -> valueOf(change, attribute));
            Integer owner = values == null || after == null ? null : values.get(after);
            if (owner != null && owner != node) {
                edges.add(new Edge(owner, node, unique.attributes().get(0), unique));
            }
        }
    }

    private boolean isReleased(Entry<?> entry, LinkAttribute link) {
        Integer release = releases.get(entry);
        return release != null && writes(changes.get(release), link);
    }

    /** Whether the change gives the column another value; a delete gives up all of them. */
    static boolean writes(Change change, StoredAttribute attribute) {
        return !(change instanceof Update update) || update.changed().get(attribute.slot());
    }

    private static boolean writes(Change change, UniqueKey unique) {
        for (StoredAttribute attribute : unique.attributes()) {
            if (writes(change, attribute)) {
                return true;
            }
        }
        return false;
    }

    /** The value that a change gives an attribute; null for a delete. */
    static @Nullable Object valueOf(Change change, StoredAttribute attribute) {
        if (change instanceof Insert insert) {
            return insert.values()[attribute.slot()];
        }
        return change instanceof Update update ? update.values()[attribute.slot()] : null;
    }
}
