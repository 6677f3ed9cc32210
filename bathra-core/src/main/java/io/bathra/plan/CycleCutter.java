package io.bathra.plan;

import io.bathra.error.UnorderableChangesException;
import io.bathra.model.StoredAttribute;
import io.bathra.plan.RowGraph.Edge;
import io.bathra.track.Change;
import io.bathra.track.Change.Insert;
import io.bathra.track.Change.Update;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Breaks rings of new rows that link to one another: one nullable link of the ring is inserted as null and set by an
 * update after the inserts.
 */
final class CycleCutter {
    private static final Comparator<StoredAttribute> DECLARED = Comparator.comparingInt(
                    (StoredAttribute attribute) -> attribute.entity().position())
            .thenComparingInt(StoredAttribute::slot);

    private final List<Change> changes;
    private final Map<Entry<?>, Update> late = new LinkedHashMap<>();

    private CycleCutter(List<Change> changes) {
        this.changes = new ArrayList<>(changes);
    }

    /** The changes, with rings cut. */
    static List<Change> cut(List<Change> changes) {
        CycleCutter cutter = new CycleCutter(changes);
        while (cutter.cutOncePerRing()) {
            // each round takes one link out of every ring that is left
        }
        List<Change> all = new ArrayList<>(cutter.changes);
        all.addAll(cutter.late.values());
        return all;
    }

    private boolean cutOncePerRing() {
        Map<Integer, List<Edge>> rings = rings(RowGraph.edges(changes));
        for (List<Edge> ring : rings.values()) {
            StoredAttribute link = ring.stream()
                    .filter(this::canBeCut)
                    .map(Edge::attribute)
                    .min(DECLARED)
                    .orElseThrow(() -> new UnorderableChangesException(describe(ring)));
            ring.stream()
                    .filter(edge -> edge.attribute() == link && canBeCut(edge))
                    .forEach(this::cut);
        }
        return !rings.isEmpty();
    }

    /** The edges within each set of rows that wait for one another. */
    private Map<Integer, List<Edge>> rings(List<Edge> edges) {
        Successors successors = Successors.of(changes.size(), edges, Edge::before, Edge::after);
        if (Arrays.stream(successors.levels()).noneMatch(level -> level < 0)) {
            return Map.of();
        }
        int[] component = Components.of(successors);
        Map<Integer, List<Edge>> rings = new LinkedHashMap<>();
        for (Edge edge : edges) {
            if (component[edge.before()] == component[edge.after()]) {
                rings.computeIfAbsent(component[edge.before()], c -> new ArrayList<>())
                        .add(edge);
            }
        }
        return rings;
    }

    private boolean canBeCut(Edge edge) {
        return !edge.unique()
                && !edge.attribute().required()
                && changes.get(edge.before()) instanceof Insert
                && changes.get(edge.after()) instanceof Insert;
    }

    private void cut(Edge edge) {
        Insert insert = (Insert) changes.get(edge.after());
        int slot = edge.attribute().slot();
        Update update = late.computeIfAbsent(
                insert.entry(),
                entry -> new Update(entry, new BitSet(), insert.values().clone()));
        update.changed().set(slot);
        @Nullable Object[] values = insert.values().clone();
        values[slot] = null;
        changes.set(edge.after(), new Insert(insert.entry(), values));
    }

    /** One ring, walked from its first row to the row that it waits for, until a row comes again. */
    private List<String> describe(Collection<Edge> ring) {
        Map<Integer, Edge> waiting = new HashMap<>();
        ring.forEach(edge -> waiting.putIfAbsent(edge.after(), edge));
        List<Integer> walked = new ArrayList<>();
        int node = Collections.min(waiting.keySet());
        while (!walked.contains(node)) {
            walked.add(node);
            node = waiting.get(node).before();
        }
        List<String> words = new ArrayList<>();
        for (int waits : walked.subList(walked.indexOf(node), walked.size())) {
            words.add(changes.get(waits).entry() + "."
                    + waiting.get(waits).attribute().name());
        }
        words.add(changes.get(node).entry().toString());
        return words;
    }
}
