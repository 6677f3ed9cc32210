package io.bathra.flush;

import io.bathra.attr.DeleteRule;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.plan.DeleteRules;
import io.bathra.read.EntityReader;
import io.bathra.track.Entry;
import io.bathra.track.Settlement;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** Finds out what is left of tracked objects when rows have gone that nobody has seen. */
final class Leftovers {
    private final Transaction transaction;
    private final Tracker tracker;
    private final EntityReader reader;

    Leftovers(Transaction transaction, Tracker tracker) {
        reader = new EntityReader(transaction, tracker);
        this.transaction = transaction;
        this.tracker = tracker;
    }

    /**
     * What has become of objects that may have gone along with removed rows, or lost a link, by way of rows that are
     * not tracked.
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

    /**
     * What has become of objects whose rows a statement may have changed.
     *
     * @param touched the tables, among them those of parts and pivots
     */
    List<Settlement> bringUpToDate(String cause, Set<ModelEntity<?>> touched) {
        List<Settlement> settlements = new ArrayList<>();
        for (ModelEntity<?> entity : touched) {
            Map<Object, Entry<?>> missing = stored(entity, entry -> true);
            List<Object> keys = List.copyOf(missing.keySet());
            KeyedRows.readAgain(transaction, cause, entity, keys, "", row -> {
                Entry<?> entry = missing.remove(Objects.requireNonNull(entity.keyIn(row)));
                if (entry != null && !Arrays.deepEquals(entry.snapshot(), row)) {
                    settlements.add(new Settlement.OfOverwritten(entry, row));
                }
            });
            if (!missing.isEmpty()) {
                settlements.add(new Settlement.OfTaken(List.copyOf(missing.values())));
            }
        }
        for (ModelEntity<?> rows : touched) {
            if (rows.kind() == ModelEntity.Kind.PARTS) {
                settlements.addAll(parts(rows));
            }
        }
        tracker.entries().stream()
                .filter(entry -> entry.state() == Entry.State.STORED)
                .filter(entry -> entry.entity().pivots().stream()
                        .anyMatch(pivot -> touched.contains(pivot.pivot().rows())))
                .forEach(entry -> settlements.add(new Settlement.OfUnreadPairs(entry)));
        return settlements;
    }

    private List<Settlement> parts(ModelEntity<?> rows) {
        List<Settlement> settlements = new ArrayList<>();
        for (ModelEntity<?> owner : tracker.model().entities()) {
            for (PartsAttribute parts : owner.parts()) {
                List<Entry<?>> owners = parts.parts().rows() == rows
                        ? List.copyOf(stored(owner, entry -> true).values())
                        : List.of();
                for (Map.Entry<Entry<?>, List<@Nullable Object[]>> found :
                        reader.partRows(parts, owners).entrySet()) {
                    settlements.add(new Settlement.OfRereadParts(found.getKey(), parts, found.getValue()));
                }
            }
        }
        return settlements;
    }

    private Map<Object, Entry<?>> stored(ModelEntity<?> entity, Predicate<Entry<?>> among) {
        Map<Object, Entry<?>> tracked = new LinkedHashMap<>();
        for (Entry<?> entry : tracker.entries()) {
            if (entry.entity() == entity && entry.state() == Entry.State.STORED && among.test(entry)) {
                tracked.put(Objects.requireNonNull(entry.key()), entry);
            }
        }
        return tracked;
    }

    /** What has become of the objects of one entity. */
    List<Settlement> of(ModelEntity<?> entity, Predicate<Entry<?>> among) {
        Map<Object, Entry<?>> tracked = stored(entity, among);
        List<Settlement> settlements = new ArrayList<>();
        if (tracked.isEmpty()) {
            return settlements;
        }
        Map<Object, Entry<?>> missing = new LinkedHashMap<>(tracked);
        KeyedRows.readAgain(transaction, "removal: what is left", entity, List.copyOf(tracked.keySet()), "", row -> {
            Entry<?> entry = missing.remove(Objects.requireNonNull(entity.keyIn(row)));
            if (entry == null) {
                return;
            }
            for (LinkAttribute link : entity.links()) {
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
