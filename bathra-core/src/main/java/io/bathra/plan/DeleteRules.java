package io.bathra.plan;

import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import io.bathra.attr.Event;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * What the removal of an entity's rows means for other tables, by the delete rules of the links that lead there, as far
 * as the model tells.
 */
public final class DeleteRules {
    private final boolean deepCascades;
    private final boolean heard;
    private final Set<ModelEntity<?>> concerned = new LinkedHashSet<>();
    private final List<Chain> toRead = new ArrayList<>();
    private final List<Chain> byUnit = new ArrayList<>();
    private final List<Chain> refusing = new ArrayList<>();
    private final Set<String> leftToDatabase = new TreeSet<>();

    /** Under what circumstances rows are removed: the rules for each are made once for an entity. */
    private enum Case {
        SHALLOW,
        SHALLOW_UNHEARD,
        DEEP,
        DEEP_UNHEARD,
        /** How far the removal reaches, by whomever. */
        REACH;

        static Case of(boolean deepCascades, boolean heard) {
            return deepCascades ? heard ? DEEP : DEEP_UNHEARD : heard ? SHALLOW : SHALLOW_UNHEARD;
        }
    }

    private DeleteRules(boolean deepCascades, boolean heard) {
        this.deepCascades = deepCascades;
        this.heard = heard;
    }

    /**
     * The rules for the removal of rows of an entity.
     *
     * @param deepCascades whether the database's own cascade takes a table that leads to itself, whatever the depth
     */
    public static DeleteRules of(ModelEntity<?> root, boolean deepCascades) {
        return of(root, deepCascades, true);
    }

    /**
     * The rules for the removal of rows of an entity.
     *
     * @param deepCascades whether the database's own cascade takes a table that leads to itself, whatever the depth
     * @param heard whether listeners are told of what goes along
     */
    public static DeleteRules of(ModelEntity<?> root, boolean deepCascades, boolean heard) {
        return root.derived(Case.of(deepCascades, heard), () -> {
            DeleteRules rules = new DeleteRules(deepCascades, heard);
            Set<ModelEntity<?>> above = new HashSet<>();
            above.add(root);
            rules.walk(root, new Chain(List.of()), above);
            return rules;
        });
    }

    private void walk(ModelEntity<?> at, Chain way, Set<ModelEntity<?>> above) {
        for (LinkAttribute link : at.linksLeadingHere()) {
            Chain chain = way.and(link);
            ModelEntity<?> below = link.entity();
            if (below.isView()) {
                continue;
            }
            if (link.onDelete() != DeleteRule.RESTRICT) {
                concerned.add(below);
            }
            switch (link.onDelete()) {
                case RESTRICT -> refusing.add(chain);
                case SET_NULL -> {
                    if (link.enforcer() == Enforcer.UNIT) {
                        byUnit.add(chain);
                    }
                }
                case CASCADE -> cascade(chain, above);
            }
            boolean read = link.onDelete() == DeleteRule.CASCADE && isRead(below);
            if (link.enforcer() == Enforcer.DATABASE && link.onDelete() != DeleteRule.RESTRICT && !read) {
                leftToDatabase.add(below.table());
            }
        }
    }

    private void cascade(Chain chain, Set<ModelEntity<?>> above) {
        ModelEntity<?> below = chain.end();
        if (isRead(below)) {
            toRead.add(chain);
            return; // its rows are removed by themselves, with rules of their own
        }
        if (chain.last().enforcer() == Enforcer.UNIT) {
            byUnit.add(chain);
        }
        if (above.add(below)) {
            walk(below, chain, above);
            above.remove(below);
        }
    }

    /** Whether rows that go along have to be read: somebody listens, or nobody knows how deep it goes. */
    private boolean isRead(ModelEntity<?> entity) {
        return (heard && entity.isHeard(Event.REMOVE)) || leadsToItself(entity, entity, new HashSet<>(), deepCascades);
    }

    /** Whether a cascade comes back to an entity, with a link in the ring that the database alone does not serve. */
    private static boolean leadsToItself(
            ModelEntity<?> start, ModelEntity<?> at, Set<ModelEntity<?>> visited, boolean served) {
        for (LinkAttribute link : at.linksLeadingHere()) {
            if (link.onDelete() != DeleteRule.CASCADE) {
                continue;
            }
            boolean servedHere = served && link.enforcer() == Enforcer.DATABASE;
            ModelEntity<?> below = link.entity();
            if (below == start ? !servedHere : visited.add(below) && leadsToItself(start, below, visited, servedHere)) {
                return true;
            }
        }
        return false;
    }

    /** The entities whose rows the removal of rows of one deletes or changes, however far from it and by whomever. */
    public static Set<ModelEntity<?>> reach(ModelEntity<?> root) {
        return root.derived(Case.REACH, () -> {
            Set<ModelEntity<?>> reached = new LinkedHashSet<>();
            reach(root, reached, new HashSet<>());
            return Collections.unmodifiableSet(reached);
        });
    }

    private static void reach(ModelEntity<?> at, Set<ModelEntity<?>> reached, Set<ModelEntity<?>> deleted) {
        if (deleted.add(at)) {
            for (LinkAttribute link : at.linksLeadingHere()) {
                if (link.onDelete() != DeleteRule.RESTRICT) {
                    reached.add(link.entity());
                }
                if (link.onDelete() == DeleteRule.CASCADE) {
                    reach(link.entity(), reached, deleted);
                }
            }
        }
    }

    /**
     * All ways to rows that go along when rows of an entity are removed, by their entities.
     *
     * @return null where a table is reached from itself, so that there is no end to the ways
     */
    public static @Nullable Map<ModelEntity<?>, List<Chain>> waysDown(ModelEntity<?> root) {
        Map<ModelEntity<?>, List<Chain>> ways = new LinkedHashMap<>();
        return waysDown(root, new Chain(List.of()), Set.of(root), ways) ? ways : null;
    }

    private static boolean waysDown(
            ModelEntity<?> at, Chain way, Set<ModelEntity<?>> above, Map<ModelEntity<?>, List<Chain>> ways) {
        for (LinkAttribute link : at.linksLeadingHere()) {
            ModelEntity<?> below = link.entity();
            if (link.onDelete() != DeleteRule.CASCADE || below.isView()) {
                continue;
            }
            Set<ModelEntity<?>> further = new HashSet<>(above);
            Chain chain = way.and(link);
            if (!further.add(below) || !waysDown(below, chain, further, ways)) {
                return false;
            }
            ways.computeIfAbsent(below, one -> new ArrayList<>()).add(chain);
        }
        return true;
    }

    /** How many tables a cascade reaches one below the other, at most, when rows of this entity go. */
    static int height(ModelEntity<?> entity) {
        return height(entity, new HashSet<>());
    }

    private static int height(ModelEntity<?> entity, Set<ModelEntity<?>> above) {
        int height = 0;
        if (above.add(entity)) {
            for (LinkAttribute link : entity.linksLeadingHere()) {
                if (link.onDelete() == DeleteRule.CASCADE) {
                    height = Math.max(height, 1 + height(link.entity(), above));
                }
            }
            above.remove(entity);
        }
        return height;
    }

    /** The ways to rows that go along, and have to be read for that. */
    public List<Chain> toRead() {
        return Collections.unmodifiableList(toRead);
    }

    /** The ways to rows that the unit of work deletes, or whose link it empties, a statement for each table. */
    public List<Chain> byUnit() {
        return Collections.unmodifiableList(byUnit);
    }

    /** The entities whose rows are deleted or changed along. */
    public Set<ModelEntity<?>> concerned() {
        return Collections.unmodifiableSet(concerned);
    }

    /** The ways to rows that stand in the way. */
    public List<Chain> refusing() {
        return Collections.unmodifiableList(refusing);
    }

    /** The tables whose rows the database deletes, or whose link it empties, by itself. */
    public Set<String> leftToDatabase() {
        return Collections.unmodifiableSet(leftToDatabase);
    }
}
