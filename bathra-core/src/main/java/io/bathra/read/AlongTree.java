package io.bathra.read;

import io.bathra.access.Accessor;
import io.bathra.error.BathraException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.ToMany;
import io.bathra.question.Branch;
import io.bathra.question.Question;
import io.bathra.track.Entry;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * The associations that a query reads along, as a tree: paths that begin alike share their beginning. A link to one is
 * joined as long as all before it are; everything else is read by a statement for all owners at once.
 */
final class AlongTree {
    private final ModelEntity<?> entity;

    /** The way to the owners of the branches; empty for the entity that is asked about. */
    private final List<Accessor> way;

    private Map<Attribute, AlongTree> branches = Map.of(); // most queries bring nothing along
    private boolean joined;

    /** Whether it is a value that is read on request. */
    private boolean isValue;

    private AlongTree(ModelEntity<?> entity, List<Accessor> way) {
        this.entity = entity;
        this.way = way;
    }

    static AlongTree of(ModelEntity<?> entity, Question<?> question) {
        AlongTree root = new AlongTree(entity, List.of());
        root.joined = question.locking() == null; // a lock must not reach beyond the entity that is asked about
        if (!question.along().isEmpty()) { // as for most
            question.along().forEach(along -> root.grow(along, question));
        }
        return root;
    }

    private void grow(Branch along, Question<?> question) {
        AlongTree at = this;
        for (int i = 0; i < along.steps().size(); i++) {
            Accessor step = along.steps().get(i);
            if (at.isValue) {
                throw new BathraException(along + " goes on behind a value, which leads nowhere");
            }
            boolean last = i == along.steps().size() - 1;
            at = at.branch(step, last ? along.joined() : null, question);
        }
    }

    private AlongTree branch(Accessor step, @Nullable Boolean wanted, Question<?> question) {
        Attribute attribute = entity.attribute(step);
        AlongTree branch = branches.get(attribute);
        if (branch == null) {
            List<Accessor> longer = new ArrayList<>(way);
            longer.add(step);
            branch = new AlongTree(target(attribute), longer);
            branch.joined = joined && attribute.isLink();
            branch.isValue = attribute.target() == null;
            branches = branches.isEmpty() ? new LinkedHashMap<>() : branches;
            branches.put(attribute, branch);
        }
        if (Boolean.TRUE.equals(wanted) && !branch.joined) {
            throw new BathraException(attribute + " cannot be joined"
                    + (attribute.isLink()
                            ? question.locking() != null
                                    ? " while rows are held for an update, since the join would hold others too"
                                    : ", since what leads to it is read by a statement of its own"
                            : ", since owners would come again with each element")
                    + "; leave out joined()");
        }
        if (Boolean.FALSE.equals(wanted)) {
            branch.separate();
        }
        return branch;
    }

    private void separate() {
        joined = false;
        branches.values().forEach(AlongTree::separate);
    }

    private static ModelEntity<?> target(Attribute attribute) {
        boolean later = attribute instanceof StoredAttribute stored && stored.isLater();
        ModelEntity<?> target = later ? attribute.entity() : attribute.target();
        if (target == null) {
            throw new BathraException(
                    attribute + " is neither an association nor read later, so nothing can be read along with it");
        }
        return target;
    }

    /** An association that is read in the query's own statement. */
    record Joined(List<Accessor> way, ModelEntity<?> target) {}

    /** The ways to what the query's own statement reads beside its entity. */
    List<List<Accessor>> joinedWays() {
        if (branches.isEmpty()) {
            return List.of();
        }
        List<List<Accessor>> ways = new ArrayList<>();
        joined().forEach(one -> ways.add(one.way()));
        return ways;
    }

    /** What the query's own statement reads beside its entity, in the order of its columns. */
    List<Joined> joined() {
        if (branches.isEmpty()) {
            return List.of();
        }
        List<Joined> all = new ArrayList<>();
        for (AlongTree branch : branches.values()) {
            if (branch.joined) {
                all.add(new Joined(branch.way, branch.entity));
                all.addAll(branch.joined());
            }
        }
        return all;
    }

    /** Whether nothing hangs on an entity that is read. */
    boolean isBare(ModelEntity<?> itself) {
        return branches.isEmpty() && itself.parts().isEmpty();
    }

    /** What hangs on the entity with a key and can be asked for in the same trip: its collections. */
    List<Ahead> ahead(ReadSide into, Object key) {
        List<Ahead> ahead = List.of();
        for (Attribute attribute : branches.keySet()) {
            if (attribute instanceof ToMany many) {
                ahead = ahead.isEmpty() ? new ArrayList<>() : ahead;
                ahead.add(into.cohorts().ahead(many, key));
            }
        }
        return ahead;
    }

    /** Reads the branches of owners; of what was joined, all is here already. */
    void read(ReadSide into, Collection<Entry<?>> owners) {
        if (branches.isEmpty()) {
            return;
        }
        branches.forEach((attribute, branch) -> {
            into.cohorts().read(owners, attribute);
            if (!branch.branches.isEmpty()) {
                branch.read(into, targets(into.tracker(), owners, attribute));
            }
        });
    }

    private static Set<Entry<?>> targets(Tracker tracker, Collection<Entry<?>> owners, Attribute attribute) {
        Set<Entry<?>> targets = new LinkedHashSet<>();
        for (Entry<?> owner : owners) {
            for (Object object : attribute.present(owner.object())) {
                Entry<?> target = tracker.entryOf(object);
                if (target != null) {
                    targets.add(target);
                }
            }
        }
        return targets;
    }
}
