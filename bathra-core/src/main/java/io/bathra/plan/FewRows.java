package io.bathra.plan;

import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.trace.Operation;
import io.bathra.track.Change;
import io.bathra.track.Change.Delete;
import io.bathra.track.Change.Insert;
import io.bathra.track.Change.Update;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.TreeSet;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * The steps for a few rows by the shortest way. It knows links alone, between rows of different groups that do not wait
 * for one another in a ring, which is what nearly all small units of work write; for anything else it has no answer.
 * Where it has one, it is that of the long way.
 */
final class FewRows {
    /** Groups are numbered by the bits of an int, and rows are looked for one after the other. */
    private static final int MOST = 32;

    private static final Supplier<String> ANYWHERE = () -> "";

    private final List<Change> changes;
    private final List<Group> groups = new ArrayList<>(4);
    private final int[] groupOf;

    /** For each group, the bits of those that it waits for. */
    private final int[] waitsFor;

    private @Nullable List<Reason> reasons;
    private boolean deletes;

    /** Why one group comes before another. */
    private record Reason(int from, int to, LinkAttribute link) {}

    private FewRows(List<Change> changes) {
        this.changes = changes;
        groupOf = new int[changes.size()];
        waitsFor = new int[changes.size()];
    }

    /**
     * The steps for some changes; null when the long way has to be taken.
     *
     * @param taken rows that go with deleted ones
     */
    static @Nullable List<Step> steps(List<Change> changes, Collection<?> taken) {
        if (changes.size() > MOST || !taken.isEmpty()) {
            return null;
        }
        FewRows rows = new FewRows(changes);
        return rows.group() && rows.connect() ? rows.ordered() : null;
    }

    /** Finds the groups; tells whether no unique value can change hands, and no row leads to its own table. */
    private boolean group() {
        for (int node = 0; node < groupOf.length; node++) {
            Change change = changes.get(node);
            if (change instanceof Update update && writesUnique(update)) {
                return false;
            }
            if (change instanceof Delete) {
                deletes = true;
                if (leadsToItself(change.entry().entity())) {
                    return false;
                }
            }
            Group group = Group.of(change);
            int number = groups.indexOf(group);
            if (number < 0) {
                number = groups.size();
                groups.add(group);
            }
            groupOf[node] = number;
        }
        return !deletes || !anyInsertAmongDeleted();
    }

    private static boolean writesUnique(Update update) {
        List<UniqueKey> uniques = update.entry().entity().uniqueKeys();
        for (int i = 1; i < uniques.size(); i++) { // the first one is the primary key, which nobody changes
            for (StoredAttribute attribute : uniques.get(i).attributes()) {
                if (update.changed().get(attribute.slot())) {
                    return true;
                }
            }
        }
        return false;
    }

    private static boolean leadsToItself(ModelEntity<?> entity) {
        for (LinkAttribute link : entity.links()) {
            if (link.target() == entity) {
                return true;
            }
        }
        return false;
    }

    /** A deleted row may leave its unique values to one that is inserted. */
    private boolean anyInsertAmongDeleted() {
        for (Group deleted : groups) {
            for (Group inserted : groups) {
                if (deleted.operation() == Operation.DELETE
                        && inserted.operation().inserts()
                        && deleted.entity() == inserted.entity()) {
                    return true;
                }
            }
        }
        return false;
    }

    /** Finds which group waits for which; tells whether none waits for itself. */
    private boolean connect() {
        for (int node = 0; node < groupOf.length; node++) {
            Change change = changes.get(node);
            List<LinkAttribute> links = change.entry().entity().links();
            for (int i = 0; i < links.size(); i++) {
                LinkAttribute link = links.get(i);
                if (RowGraph.writes(change, link)) {
                    int parent = inserted(RowGraph.valueOf(change, link));
                    int leaving =
                            deletes ? deleted(link.target(), change.entry().before(link)) : -1;
                    if (!(parent < 0 || parent == node || wait(parent, node, link))
                            || !(leaving < 0 || leaving == node || wait(node, leaving, link))) {
                        return false;
                    }
                }
            }
        }
        return true;
    }

    /** The node that inserts what a link leads to; -1 for none. */
    private int inserted(@Nullable Object target) {
        if (target instanceof Entry<?>) {
            for (int node = 0; node < groupOf.length; node++) {
                if (changes.get(node).entry() == target && changes.get(node) instanceof Insert) {
                    return node;
                }
            }
        }
        return -1;
    }

    /** The node that deletes the row of a key; -1 for none. */
    private int deleted(ModelEntity<?> entity, @Nullable Object key) {
        if (key != null) {
            for (int node = 0; node < groupOf.length; node++) {
                Entry<?> entry = changes.get(node).entry();
                if (entry.entity() == entity && changes.get(node) instanceof Delete && key.equals(entry.key())) {
                    return node;
                }
            }
        }
        return -1;
    }

    /** One row waits for another; tells whether they are of different groups. */
    private boolean wait(int before, int after, LinkAttribute link) {
        Reason reason = new Reason(groupOf[before], groupOf[after], link);
        if (reason.from == reason.to) {
            return false;
        }
        waitsFor[reason.to] |= 1 << reason.from;
        reasons = reasons == null ? new ArrayList<>(4) : reasons;
        reasons.add(reason);
        return true;
    }

    /** A step for each group, those first that wait for nothing more; null when some wait in a ring. */
    private @Nullable List<Step> ordered() {
        List<Step> steps = new ArrayList<>(groups.size());
        int done = 0;
        while (steps.size() < groups.size()) {
            int next = -1;
            for (int group = 0; group < groups.size(); group++) {
                boolean ready = (done & 1 << group) == 0 && (waitsFor[group] & ~done) == 0;
                if (ready && (next < 0 || Group.ORDER.compare(groups.get(group), groups.get(next)) < 0)) {
                    next = group;
                }
            }
            if (next < 0) {
                return null;
            }
            done |= 1 << next;
            steps.add(step(next));
        }
        return steps;
    }

    private Step step(int number) {
        List<Change> rows = new ArrayList<>(groups.size() == 1 ? groupOf.length : 4);
        for (int node = 0; node < groupOf.length; node++) {
            if (groupOf[node] == number) {
                rows.add(changes.get(node));
            }
        }
        if (rows.size() > 1) {
            rows.sort(KeyOrder.OF_ROWS);
        }
        Group group = groups.get(number);
        Supplier<String> why = waitsFor[number] == 0 ? ANYWHERE : () -> why(number);
        return new Step(group.operation(), group.columns(), rows, why, null);
    }

    private String why(int number) {
        TreeSet<String> words = new TreeSet<>();
        for (Reason reason : reasons == null ? List.<Reason>of() : reasons) {
            if (reason.to == number) {
                words.add(groups.get(reason.from).before(reason.link));
            }
        }
        return String.join("; ", words);
    }
}
