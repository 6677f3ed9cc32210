package io.bathra.track;

import io.bathra.mapping.PivotAttribute;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Everything that a flush would write, each list in the order in which the objects came to the unit of work.
 *
 * @param taken tracked rows that go along with removed ones, each with the one that it goes with
 * @param settlements what the collections of owners hold afterwards
 */
public record Changes(
        List<Change.Insert> inserts,
        List<Change.Update> updates,
        List<Change.Delete> deletes,
        List<Settlement> settlements,
        Map<Entry<?>, Entry<?>> taken) {
    public Changes {
        taken = taken.isEmpty() ? Map.of() : Collections.unmodifiableMap(taken);
        inserts = List.copyOf(inserts);
        updates = List.copyOf(updates);
        deletes = List.copyOf(deletes);
        settlements = List.copyOf(settlements);
    }

    /** All changes: inserts, then updates, then deletes. */
    public List<Change> all() {
        if (updates.isEmpty() && deletes.isEmpty()) {
            return Collections.unmodifiableList(inserts);
        }
        List<Change> all = new ArrayList<>(size());
        all.addAll(inserts);
        all.addAll(updates);
        all.addAll(deletes);
        return Collections.unmodifiableList(all);
    }

    /** How many rows would be written. */
    public int size() {
        return inserts.size() + updates.size() + deletes.size();
    }

    public boolean isEmpty() {
        return inserts.isEmpty() && updates.isEmpty() && deletes.isEmpty();
    }

    /** Changes while they are being found. */
    static final class Draft {
        private final List<Change.Insert> inserts = new ArrayList<>();
        private final List<Change.Update> updates = new ArrayList<>();
        private final List<Change.Delete> deletes = new ArrayList<>();
        private final List<Settlement> settlements = new ArrayList<>();
        private TakenAlong along = TakenAlong.NOTHING;
        private @Nullable Set<Entry<?>> leaving;
        private @Nullable Instant now;
        private int numbers;

        /**
         * @param numbers how many objects the unit of work has numbered so far; rows of parts and pivots are numbered
         * on
         */
        Draft(int numbers) {
            this.numbers = numbers;
        }

        /** Takes note of what goes along with removed rows. */
        void along(TakenAlong with) {
            along = with;
            if (!with.taken().isEmpty()) {
                settlements.add(new Settlement.OfTaken(List.copyOf(with.taken().keySet())));
            }
            with.emptied()
                    .forEach(emptied -> settlements.add(new Settlement.OfEmptied(emptied.entry(), emptied.link())));
        }

        /** Whether an element, by its key or as the entry of a new object, is about to be removed. */
        boolean isLeaving(Entry<?> owner, PivotAttribute pivot, Object element) {
            if (along == TakenAlong.NOTHING || element instanceof Entry<?>) {
                return false;
            }
            if (leaving == null) {
                leaving = Collections.newSetFromMap(new IdentityHashMap<>());
                deletes.forEach(delete -> leaving.add(delete.entry()));
                leaving.addAll(along.taken().keySet());
            }
            return leaving.contains(owner.tracker().entry(pivot.target(), element));
        }

        /** The time of these changes; one for all, taken when the first of them wants it. */
        Instant now(Clock clock) {
            Instant known = now;
            if (known == null) {
                known = clock.instant();
                now = known;
            }
            return known;
        }

        int nextNumber() {
            return ++numbers;
        }

        List<Change.Insert> inserts() {
            return inserts;
        }

        List<Change.Update> updates() {
            return updates;
        }

        List<Change.Delete> deletes() {
            return deletes;
        }

        List<Settlement> settlements() {
            return settlements;
        }

        /** How many rows would be written. */
        int size() {
            return inserts.size() + updates.size() + deletes.size();
        }

        boolean isEmpty() {
            return size() == 0;
        }

        Changes done() {
            return new Changes(inserts, updates, deletes, settlements, along.taken());
        }
    }
}
