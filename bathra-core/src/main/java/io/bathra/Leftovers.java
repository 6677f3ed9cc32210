package io.bathra;

import io.bathra.jdbc.Transaction;
import io.bathra.model.DeleteRule;
import io.bathra.model.LinkAttribute;
import io.bathra.model.ModelEntity;
import io.bathra.plan.DeleteRules;
import io.bathra.track.Entry;
import io.bathra.track.Settlement;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Predicate;

/** Finds out what is left of tracked objects when rows have gone that nobody has seen. */
final class Leftovers {
    private final Transaction transaction;
    private final Tracker tracker;

    Leftovers(Transaction transaction, Tracker tracker) {
        this.transaction = transaction;
        this.tracker = tracker;
    }

    /**
     * What has become of objects that may have gone along with removed rows, or lost a link, by way of rows that are not
     * tracked.
     *
     * @param removed the entities whose rows were removed
     * @param known the objects that are known to go along
     */
    List<Settlement> unseen(Collection<ModelEntity<?>> removed, Set<Entry<?>> known) {
        Set<ModelEntity<?>> concerned = new LinkedHashSet<>();
        boolean deep = transaction.database().dialect().abilities().deepCascades();
        removed.forEach(entity -> concerned.addAll(DeleteRules.of(entity, deep).concerned()));
        List<Settlement> settlements = new ArrayList<>();
        for (ModelEntity<?> entity : concerned) {
            settlements.addAll(of(entity, entry -> !known.contains(entry) && leadsOutOfSight(entry, concerned)));
        }
        return settlements;
    }

    /** Whether an object leads to a row that may have gone, and is not tracked. */
    private boolean leadsOutOfSight(Entry<?> entry, Set<ModelEntity<?>> concerned) {
        for (LinkAttribute link : entry.entity().links()) {
            Object key = link.onDelete() != DeleteRule.RESTRICT && concerned.contains(link.target())
                    ? entry.before(link)
                    : null;
            if (key != null && tracker.entry(link.target(), key) == null) {
                return true;
            }
        }
        return false;
    }

    /** What has become of the objects of one entity. */
    List<Settlement> of(ModelEntity<?> entity, Predicate<Entry<?>> among) {
        Map<Object, Entry<?>> tracked = new LinkedHashMap<>();
        for (Entry<?> entry : tracker.entries()) {
            if (entry.entity() == entity && entry.state() == Entry.State.STORED && among.test(entry)) {
                tracked.put(Objects.requireNonNull(entry.key()), entry);
            }
        }
        List<Settlement> settlements = new ArrayList<>();
        if (tracked.isEmpty()) {
            return settlements;
        }
        Map<Object, Entry<?>> missing = new LinkedHashMap<>(tracked);
        EntityReader.readAgain(transaction, "removal: what is left", entity, List.copyOf(tracked.keySet()), "", row -> {
            Entry<?> entry = missing.remove(Objects.requireNonNull(entity.keyIn(row)));
            for (LinkAttribute link : entry == null ? List.<LinkAttribute>of() : entity.links()) {
                if (row[link.slot()] == null && entry.before(link) != null) {
                    settlements.add(new Settlement.OfEmptied(entry, link));
                }
            }
        });
        if (!missing.isEmpty()) {
            settlements.add(new Settlement.OfTaken(List.copyOf(missing.values())));
        }
        return settlements;
    }
}
