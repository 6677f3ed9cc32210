package io.bathra.plan;

import io.bathra.attr.DeleteRule;
import io.bathra.attr.Event;
import io.bathra.mapping.ModelEntity;
import io.bathra.trace.Operation;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;

/**
 * What the unit of work does to the rows of one table, seen or not, since those that they lead to are removed.
 *
 * @param chains the ways from removed rows to them; all end at the same entity, and with the same link where that is
 * emptied
 * @param removed the keys of the removed rows
 * @param read whether they are read and removed one by one, not by one statement
 */
public record Cascade(List<Chain> chains, Map<ModelEntity<?>, List<Object>> removed, boolean read) {
    public Cascade {
        chains = List.copyOf(chains);
    }

    public ModelEntity<?> entity() {
        return chains.get(0).end();
    }

    public Operation operation() {
        return chains.get(0).last().onDelete() == DeleteRule.SET_NULL ? Operation.UPDATE : Operation.DELETE;
    }

    /**
     * What is to be done when rows of these entities are removed, in order: links are emptied, then rows go, the lowest
     * first.
     */
    public static List<Cascade> of(
            Map<ModelEntity<?>, List<Object>> removed, Collection<DeleteRules> rules, boolean expanded) {
        Map<Object, List<Chain>> statements = new LinkedHashMap<>();
        Map<Object, List<Chain>> reads = new LinkedHashMap<>();
        for (DeleteRules one : rules) {
            for (Chain chain : one.byUnit()) {
                Object what = chain.last().onDelete() == DeleteRule.SET_NULL ? chain.last() : chain.end();
                statements.computeIfAbsent(what, w -> new ArrayList<>()).add(chain);
            }
            for (Chain chain : expanded ? List.<Chain>of() : one.toRead()) {
                reads.computeIfAbsent(chain.end(), w -> new ArrayList<>()).add(chain);
            }
        }
        List<Cascade> cascades = new ArrayList<>();
        reads.values().forEach(chains -> cascades.add(new Cascade(chains, removed, true)));
        statements.values().forEach(chains -> cascades.add(new Cascade(chains, removed, false)));
        cascades.sort(Comparator.comparing((Cascade cascade) -> !cascade.read())
                .thenComparing(Cascade::operation)
                .thenComparingInt(cascade -> DeleteRules.height(cascade.entity()))
                .thenComparingInt(cascade -> cascade.entity().position()));
        return cascades;
    }

    /** The ways by the entities whose removed rows they begin at, which are told by keys of their own. */
    public Map<ModelEntity<?>, List<Chain>> byRoot() {
        Map<ModelEntity<?>, List<Chain>> byRoot = new LinkedHashMap<>();
        chains.forEach(chain ->
                byRoot.computeIfAbsent(chain.root(), root -> new ArrayList<>()).add(chain));
        return byRoot;
    }

    /** The keys of the removed rows of an entity. */
    public List<Object> removed(ModelEntity<?> root) {
        return removed.getOrDefault(root, List.of());
    }

    /** Why it is done. */
    String why() {
        TreeSet<String> ways = new TreeSet<>();
        chains.forEach(chain -> ways.add(chain.toString()));
        String along = "goes along (" + String.join("; ", ways) + ")";
        if (operation() == Operation.UPDATE) {
            return "leads nowhere any more (" + String.join("; ", ways) + ")";
        }
        return !read
                ? along
                : along
                        + (entity().isHeard(Event.REMOVE)
                                ? "; read first, one by one, for its remove listeners"
                                : "; read first, since it leads to itself");
    }
}
