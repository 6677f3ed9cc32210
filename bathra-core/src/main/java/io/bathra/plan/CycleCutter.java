package io.bathra.plan;

import io.bathra.error.UnorderableChangesException;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.plan.RowGraph.Edge;
import io.bathra.track.Change;
import io.bathra.track.Change.Delete;
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
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Breaks rings of rows. A unique value that changes hands in a ring, or along several rows, is parked first. Other
 * rings are cut at a nullable link: of new rows that link to one another, it is inserted as null and set by an update
 * after the inserts; of rows to be deleted, it is set to null by an update before the deletes.
 */
final class CycleCutter {
    private static final Comparator<StoredAttribute> DECLARED = Comparator.comparingInt(
                    (StoredAttribute attribute) -> attribute.entity().position())
            .thenComparingInt(StoredAttribute::slot);

    private final List<Change> changes;
    private final Map<Entry<?>, Update> late = new LinkedHashMap<>();
    private final Map<Entry<?>, Update> early = new LinkedHashMap<>();
    private final Parking parking;
    private final Abilities abilities;
    private final Map<Entry<?>, Entry<?>> taken;

    /** The unique constraints and links whose checks are put off to the end. */
    private final Set<Object> deferred = new HashSet<>();

    private CycleCutter(List<Change> changes, Map<Entry<?>, Entry<?>> taken, Abilities abilities) {
        this.taken = taken;
        this.changes = new ArrayList<>(changes);
        this.parking = new Parking(changes);
        this.abilities = abilities;
    }

    /**
     * Changes whose rows wait for one another in no ring.
     *
     * @param edges which waits for which
     * @param deferred whether the checks of some constraints have to be put off
     */
    record Cut(List<Change> changes, List<Edge> edges, boolean deferred) {}

    /** The changes, with rings cut. */
    static Cut cut(List<Change> changes, Map<Entry<?>, Entry<?>> taken, Abilities abilities) {
        CycleCutter cutter = new CycleCutter(changes, taken, abilities);
        cutter.releaseOwnLinks();
        List<Edge> edges = cutter.edges();
        if (cutter.parkChains(edges)) {
            edges = cutter.edges();
        }
        while (cutter.cutOncePerRing(edges)) {
            edges = cutter.edges(); // each round takes one link out of every ring that is left
        }
        return new Cut(cutter.all(), edges, !cutter.deferred.isEmpty());
    }

    private List<Edge> edges() {
        List<Edge> edges = RowGraph.edges(all(), taken);
        edges.removeIf(edge -> deferred.contains(constraint(edge)));
        return edges;
    }

    private static Object constraint(Edge edge) {
        return edge.unique() == null ? edge.attribute() : edge.unique();
    }

    /** Whether the database may check the constraint behind an edge at the end. */
    private boolean canBeDeferred(Edge edge) {
        return edge.unique() == null
                ? abilities.lateForeignKeys()
                        && edge.attribute().isLink()
                        && edge.attribute().isDeferrable()
                : abilities.lateUniques() && edge.unique().isDeferrable();
    }

    private List<Change> all() {
        List<Change> all = new ArrayList<>(changes);
        all.addAll(late.values());
        all.addAll(early.values());
        return all;
    }

    private boolean cutOncePerRing(List<Edge> edges) {
        Map<Integer, List<Edge>> rings = rings(edges);
        for (List<Edge> ring : rings.values()) {
            Optional<Object> late = ring.stream()
                    .filter(this::canBeDeferred)
                    .min(Comparator.comparing(Edge::attribute, DECLARED))
                    .map(CycleCutter::constraint);
            if (late.isPresent()) {
                deferred.add(late.get());
                continue;
            }
            List<Edge> handovers = ring.stream().filter(this::canBeParked).toList();
            if (!handovers.isEmpty()) {
                handovers.forEach(this::park);
                continue;
            }
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
        Successors successors =
                Successors.of(changes.size() + late.size() + early.size(), edges, Edge::before, Edge::after);
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

    /** Updates are in no ring of links: they come after what they link to, and before what they leave. */
    private boolean canBeCut(Edge edge) {
        boolean alike = (isInsert(edge.before()) && isInsert(edge.after()))
                || (isDelete(edge.before()) && isDelete(edge.after()));
        return alike && !edge.isUnique() && !edge.attribute().required();
    }

    /** A row that leads to itself lets go before it is deleted: not every database deletes it otherwise. */
    private void releaseOwnLinks() {
        for (Change change : changes) {
            if (!(change instanceof Delete)) {
                continue;
            }
            Entry<?> entry = change.entry();
            for (LinkAttribute link : entry.entity().links()) {
                if (link.target() == entry.entity()
                        && !link.required()
                        && Objects.requireNonNull(entry.key()).equals(entry.before(link))) {
                    Update update = early.computeIfAbsent(entry, CycleCutter::temporary);
                    update.changed().set(link.slot());
                    update.values()[link.slot()] = null;
                }
            }
        }
    }

    /**
     * Where a unique value moves on over more than one row, all of them are parked, so that two set-wise updates do it
     * instead of one for each row. Tells whether there were any.
     */
    private boolean parkChains(List<Edge> edges) {
        List<Edge> handovers = edges.stream()
                .filter(edge -> edge.isUnique()
                        && edge.before() < changes.size()
                        && edge.after() < changes.size()
                        && changes.get(edge.before()) instanceof Update
                        && changes.get(edge.after()) instanceof Update)
                .toList();
        Map<UniqueKey, Set<Integer>> takers = new HashMap<>();
        handovers.forEach(edge ->
                takers.computeIfAbsent(edge.unique(), unique -> new HashSet<>()).add(edge.after()));
        Set<UniqueKey> chains = new HashSet<>();
        for (Edge edge : handovers) {
            if (takers.getOrDefault(edge.unique(), Set.of()).contains(edge.before())) {
                chains.add(edge.unique());
            }
        }
        handovers.stream().filter(edge -> chains.contains(edge.unique())).forEach(edge -> {
            if (canBeDeferred(edge)) {
                deferred.add(constraint(edge));
            } else {
                park(edge);
            }
        });
        return !chains.isEmpty();
    }

    /** Only a row that is stored has a value which can make room. */
    private boolean canBeParked(Edge edge) {
        return edge.isUnique() && edge.before() < changes.size() && !(changes.get(edge.before()) instanceof Insert);
    }

    private void park(Edge edge) {
        Change change = changes.get(edge.before());
        Update update = early.computeIfAbsent(change.entry(), CycleCutter::temporary);
        parking.park(change, Objects.requireNonNull(edge.unique()), update);
    }

    private static Update temporary(Entry<?> entry) {
        return new Update(
                entry, new BitSet(), Objects.requireNonNull(entry.snapshot()).clone(), true);
    }

    private boolean isInsert(int node) {
        return node < changes.size() && changes.get(node) instanceof Insert;
    }

    private boolean isDelete(int node) {
        return node < changes.size() && changes.get(node) instanceof Delete;
    }

    private void cut(Edge edge) {
        int slot = edge.attribute().slot();
        if (isDelete(edge.before())) {
            Entry<?> leaving = changes.get(edge.before()).entry();
            Update update = early.computeIfAbsent(leaving, CycleCutter::temporary);
            update.changed().set(slot);
            update.values()[slot] = null;
            return;
        }
        Insert insert = (Insert) changes.get(edge.after());
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
            node = Objects.requireNonNull(waiting.get(node)).before();
        }
        List<Change> all = all();
        List<String> words = new ArrayList<>();
        for (int waits : walked.subList(walked.indexOf(node), walked.size())) {
            words.add(all.get(waits).entry() + "."
                    + Objects.requireNonNull(waiting.get(waits)).attribute().name());
        }
        words.add(all.get(node).entry().toString());
        return words;
    }
}
