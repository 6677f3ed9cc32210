package io.bathra.plan;

import io.bathra.error.InvalidChangesException;
import io.bathra.error.Problem;
import io.bathra.error.UnorderableChangesException;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.plan.RowGraph.Edge;
import io.bathra.trace.Operation;
import io.bathra.track.Change;
import io.bathra.track.Changes;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.PriorityQueue;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * Makes the plan of a flush: checks the changes, orders their rows, and groups the rows into as few steps as the order
 * allows. Where tables do not wait for one another in a ring, that is one step for each operation, table and set of
 * columns.
 */
public final class Planner {
    /** Why one group comes before another. */
    private record GroupEdge(int from, int to, StoredAttribute attribute, boolean unique) {}

    private final List<Change> changes;
    private final List<Edge> edges;
    private final List<Group> groups = new ArrayList<>();
    private final int[] groupOf;
    private final List<List<Integer>> members = new ArrayList<>();

    private Planner(CycleCutter.Cut cut) {
        this.changes = cut.changes();
        this.edges = cut.edges();
        this.groupOf = new int[changes.size()];
        Map<Group, Integer> numbers = new HashMap<>();
        for (int node = 0; node < groupOf.length; node++) {
            Group group = Group.of(changes.get(node));
            int number = numbers.computeIfAbsent(group, g -> {
                groups.add(g);
                members.add(new ArrayList<>());
                return groups.size() - 1;
            });
            groupOf[node] = number;
            members.get(number).add(node);
        }
    }

    /** What stands in the way of storing these changes; empty when nothing does. */
    public static List<Problem> problems(Tracker tracker, Changes changes, Abilities abilities) {
        return ChangeCheck.problems(tracker, changes, abilities.years());
    }

    /**
     * The plan for these changes.
     *
     * @param abilities what the database can
     * @param expanded whether the rows that go along and have to be read have been read
     * @throws InvalidChangesException with every problem found
     * @throws UnorderableChangesException when rows wait for one another and nothing can be cut
     */
    public static Plan plan(Tracker tracker, Changes changes, Abilities abilities, boolean expanded) {
        ChangeCheck.refuse(tracker, changes, abilities.years()); // also what is no change, but should have been one
        if (changes.isEmpty()) {
            return new Plan(List.of(), changes.settlements(), false, Set.of());
        }
        List<Change> all = changes.all();
        List<Step> steps = FewRows.steps(all, changes.taken().keySet());
        return steps == null
                ? theLongWay(changes, abilities, expanded)
                : complete(steps, changes, abilities, expanded, false);
    }

    /** The plan for changes that were checked, however many they are and whatever they wait for. */
    static Plan theLongWay(Changes changes, Abilities abilities, boolean expanded) {
        CycleCutter.Cut cut = CycleCutter.cut(changes.all(), changes.taken(), abilities);
        return complete(new Planner(cut).steps(), changes, abilities, expanded, cut.deferred());
    }

    private static Plan complete(
            List<Step> steps, Changes changes, Abilities abilities, boolean expanded, boolean deferring) {
        if (changes.deletes().isEmpty()) {
            return new Plan(steps, changes.settlements(), deferring, Set.of());
        }
        Set<String> left = new TreeSet<>();
        addCascades(steps, changes.deletes(), abilities, expanded, left);
        return new Plan(steps, changes.settlements(), deferring, left);
    }

    /** Rows that go along go before those that they go with, so that nothing is in the way of the latter. */
    private static void addCascades(
            List<Step> steps, List<Change.Delete> deletes, Abilities abilities, boolean expanded, Set<String> left) {
        Map<ModelEntity<?>, List<Object>> removed = new LinkedHashMap<>();
        deletes.forEach(delete -> removed.computeIfAbsent(delete.entry().entity(), e -> new ArrayList<>())
                .add(Objects.requireNonNull(delete.entry().key())));
        Map<ModelEntity<?>, DeleteRules> rules = new LinkedHashMap<>();
        removed.keySet().forEach(entity -> rules.put(entity, DeleteRules.of(entity, abilities.deepCascades())));
        rules.values().forEach(one -> left.addAll(one.leftToDatabase()));
        List<Step> cascades = Cascade.of(removed, rules.values(), expanded).stream()
                .map(Step::of)
                .toList();
        for (int i = 0; i < steps.size() && !cascades.isEmpty(); i++) {
            DeleteRules own = rules.get(steps.get(i).entity());
            if (steps.get(i).operation() == Operation.DELETE
                    && own != null
                    && !(own.byUnit().isEmpty() && own.toRead().isEmpty())) {
                steps.addAll(i, cascades);
                return;
            }
        }
    }

    private List<Step> steps() {
        Set<GroupEdge> between = new LinkedHashSet<>();
        boolean[] movesUnique = new boolean[groups.size()];
        for (Edge edge : edges) {
            int from = groupOf[edge.before()];
            int to = groupOf[edge.after()];
            if (from != to) {
                between.add(new GroupEdge(from, to, edge.attribute(), edge.isUnique()));
            } else {
                movesUnique[from] |= edge.isUnique();
            }
        }
        Map<Integer, Set<String>> reasons = new HashMap<>();
        between.forEach(
                edge -> reasons.computeIfAbsent(edge.to(), g -> new TreeSet<>()).add(reason(edge)));
        Successors successors = Successors.of(groups.size(), List.copyOf(between), GroupEdge::from, GroupEdge::to);
        List<Step> steps = new ArrayList<>();
        int[] ringOf = Components.of(successors);
        int[] level = levels(ringOf);
        for (List<Integer> ring : inOrder(successors, ringOf)) {
            int first = ring.get(0);
            if (ring.size() == 1 && !movesUnique[first]) {
                steps.add(step(first, members.get(first), level, why(reasons, first, level)));
            } else {
                stepPerLevel(ring, level, reasons, steps);
            }
        }
        return steps;
    }

    /** A step for each level of rows of tables that wait for one another. */
    private void stepPerLevel(List<Integer> ring, int[] level, Map<Integer, Set<String>> reasons, List<Step> steps) {
        Map<Integer, Map<Integer, List<Integer>>> byLevel = new TreeMap<>();
        for (int group : ring) {
            for (int node : members.get(group)) {
                byLevel.computeIfAbsent(level[node], l -> new TreeMap<>(Comparator.comparing(groups::get, Group.ORDER)))
                        .computeIfAbsent(group, g -> new ArrayList<>())
                        .add(node);
            }
        }
        for (Map.Entry<Integer, Map<Integer, List<Integer>>> one : byLevel.entrySet()) {
            String place = "level " + (one.getKey() + 1) + " of " + byLevel.size();
            one.getValue().forEach((group, nodes) -> {
                String why = String.join("; ", reasons.getOrDefault(group, Set.of()));
                steps.add(step(group, nodes, level, why.isEmpty() ? place : place + "; " + why));
            });
        }
    }

    private Step step(int group, List<Integer> nodes, int[] level, String why) {
        List<Integer> sorted = new ArrayList<>(nodes);
        sorted.sort(
                Comparator.<Integer>comparingInt(node -> level[node]).thenComparing(changes::get, KeyOrder.OF_ROWS));
        Group what = groups.get(group);
        List<Change> rows = new ArrayList<>(sorted.size());
        sorted.forEach(node -> rows.add(changes.get(node)));
        return new Step(what.operation(), what.columns(), rows, () -> why, null);
    }

    private String reason(GroupEdge edge) {
        Group predecessor = groups.get(edge.from());
        return edge.unique() || predecessor.temporary()
                ? predecessor + " frees " + edge.attribute()
                : predecessor.before(edge.attribute());
    }

    private String why(Map<Integer, Set<String>> reasons, int group, int[] level) {
        Set<String> all = new TreeSet<>(reasons.getOrDefault(group, Set.of()));
        if (groups.get(group).temporary()) {
            all.add("makes room for the moment");
        }
        if (members.get(group).stream().anyMatch(node -> level[node] > 0)) {
            all.add(groups.get(group).operation() == Operation.DELETE ? "children first" : "parents first");
        }
        return String.join("; ", all);
    }

    /** How many rows of the same ring of groups have to be written before a row, along the longest way. */
    private int[] levels(int[] ringOf) {
        List<Edge> within = edges.stream()
                .filter(edge -> ringOf[groupOf[edge.before()]] == ringOf[groupOf[edge.after()]])
                .toList();
        return Successors.of(changes.size(), within, Edge::before, Edge::after).levels();
    }

    /** The sets of groups that wait for one another, each set after those that it waits for. */
    private List<List<Integer>> inOrder(Successors successors, int[] ringOf) {
        Map<Integer, List<Integer>> rings = new TreeMap<>();
        int[] waitsFor = new int[groups.size()];
        for (int group = 0; group < ringOf.length; group++) {
            rings.computeIfAbsent(ringOf[group], c -> new ArrayList<>()).add(group);
            for (int i = 0; i < successors.count(group); i++) {
                int next = ringOf[successors.get(group, i)];
                waitsFor[next] += next == ringOf[group] ? 0 : 1;
            }
        }
        rings.values().forEach(ring -> ring.sort(Comparator.comparing(groups::get, Group.ORDER)));
        PriorityQueue<List<Integer>> ready =
                new PriorityQueue<>(Comparator.comparing(ring -> groups.get(ring.get(0)), Group.ORDER));
        rings.forEach((number, ring) -> {
            if (waitsFor[number] == 0) {
                ready.add(ring);
            }
        });
        List<List<Integer>> ordered = new ArrayList<>();
        while (!ready.isEmpty()) {
            List<Integer> ring = ready.poll();
            ordered.add(ring);
            for (int group : ring) {
                for (int i = 0; i < successors.count(group); i++) {
                    int next = ringOf[successors.get(group, i)];
                    if (next != ringOf[group] && --waitsFor[next] == 0) {
                        ready.add(rings.get(next));
                    }
                }
            }
        }
        return ordered;
    }
}
