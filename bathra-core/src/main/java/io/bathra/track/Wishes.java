package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.BooleanSupplier;
import org.jspecify.annotations.Nullable;

/**
 * What the user has set and asked for since a mark, flushed or not, as it is to be done again when the transaction goes
 * back.
 */
final class Wishes {
    /** The values that an object is to have. */
    static final class Values {
        private final @Nullable Object[] values;
        private final BitSet asked = new BitSet();

        /** Those that the object has already. */
        private final BitSet there = new BitSet();

        private Values(int slots) {
            values = new Object[slots];
        }

        private void ask(int slot, @Nullable Object value) {
            values[slot] = value;
            asked.set(slot);
            there.clear(slot);
        }

        /** Whether anything is asked for a slot. */
        boolean has(StoredAttribute attribute) {
            return asked.get(attribute.slot());
        }

        /** Whether the object has what is asked for. */
        boolean isThere(StoredAttribute attribute) {
            return there.get(attribute.slot());
        }

        /** What is asked for: a value as its column keeps it; for a link a key, an entry or a stranger. */
        @Nullable
        Object of(StoredAttribute attribute) {
            return values[attribute.slot()];
        }
    }

    private record Collection(Entry<?> owner, PartsAttribute attribute) {}

    private final Tracker tracker;
    private final Map<Entry<?>, Values> values = new IdentityHashMap<>();

    /** New objects, and whether the user has added each himself. */
    private final Map<Entry<?>, Boolean> fresh = new IdentityHashMap<>();

    private final Map<RowKey, Entry<?>> stored = new HashMap<>();
    private @Nullable Set<Object> removedObjects;
    private final Set<Entry<?>> removed = Collections.newSetFromMap(new IdentityHashMap<>());
    private final Map<Collection, List<@Nullable Object>> parts = new LinkedHashMap<>();
    private final Set<Collection> partsThere = new HashSet<>();
    private final List<Request.Pairs> pairs = new ArrayList<>();
    private final List<LooseRow> loose = new ArrayList<>();

    private Wishes(Tracker tracker) {
        this.tracker = tracker;
    }

    /** Nothing is asked for. */
    static Wishes none(Tracker tracker) {
        return new Wishes(tracker);
    }

    /** Everything that was asked for since a mark. */
    static Wishes since(Tracker tracker, Journal.Mark mark) {
        Wishes wishes = new Wishes(tracker);
        wishes.noteStored(tracker.journal().askedSince(mark));
        tracker.journal().askedSince(mark).forEach(wishes::flushed);
        for (Entry<?> entry : tracker.entries()) {
            wishes.pending(entry);
        }
        tracker.journal().releasedSince(mark).forEach(wishes::forget);
        return wishes;
    }

    /** Which keys are those of rows that will never have been. */
    void noteStored(List<Request> asked) {
        for (Request one : asked) {
            if (one instanceof Request.Insert insert && insert.entry().key() != null) {
                stored.put(new RowKey(insert.entry().entity(), insert.entry().key()), insert.entry());
            }
        }
    }

    private Values values(Entry<?> entry) {
        return values.computeIfAbsent(
                entry, e -> new Values(entry.entity().stored().size()));
    }

    private void flushed(Request asked) {
        if (asked instanceof Request.Insert insert) {
            Entry<?> entry = insert.entry();
            fresh.put(entry, tracker.isAdded(entry));
            for (StoredAttribute attribute : entry.entity().watched()) {
                boolean drawn = attribute.isKey() && entry.entity().keySource().isDrawn();
                if (!drawn && !entry.entity().filledIn().contains(attribute)) {
                    values(entry).ask(attribute.slot(), insert.values()[attribute.slot()]);
                }
            }
        } else if (asked instanceof Request.Update update) {
            update.slots().stream().forEach(slot -> values(update.entry()).ask(slot, update.values()[slot]));
        } else if (asked instanceof Request.Removal removal) {
            removed.add(removal.entry());
        } else if (asked instanceof Request.Loose one) {
            loose.add(one.row());
        } else if (asked instanceof Request.Parts one) {
            parts.put(new Collection(one.owner(), one.attribute()), one.parts());
        } else if (asked instanceof Request.Pairs one) {
            pairs.add(one);
        }
    }

    /** What has not been flushed; the fields hold it already. */
    private void pending(Entry<?> entry) {
        if (entry.state() == State.NEW) {
            fresh.put(entry, tracker.isAdded(entry));
            for (StoredAttribute attribute : entry.entity().stored()) {
                there(entry, attribute);
            }
            pairs(entry);
        } else if (entry.state() == State.REMOVED) {
            if (!tracker.isAlong(entry)) {
                removed.add(entry);
            }
        } else if (entry.state() == State.STORED) {
            for (StoredAttribute attribute : suspects(entry)) {
                if (differs(() -> entry.isChanged(attribute))) {
                    there(entry, attribute);
                }
            }
            for (PartsAttribute attribute : entry.entity().parts()) {
                if (differs(() -> PartsDifference.isIn(entry, attribute))) {
                    partsThere.add(new Collection(entry, attribute));
                }
            }
            pairs(entry);
        }
    }

    private static List<StoredAttribute> suspects(Entry<?> entry) {
        try {
            return entry.suspects();
        } catch (RuntimeException e) {
            return entry.entity().watched();
        }
    }

    /** What cannot be compared, since its converter refuses it, is not what was there. */
    static boolean differs(BooleanSupplier comparison) {
        try {
            return comparison.getAsBoolean();
        } catch (RuntimeException e) {
            return true;
        }
    }

    private void pairs(Entry<?> entry) {
        for (PivotAttribute pivot : entry.entity().pivots()) {
            Request.Pairs changed = PairsDifference.of(entry, pivot);
            if (changed != null) {
                pairs.add(changed);
            }
        }
    }

    private void there(Entry<?> entry, StoredAttribute attribute) {
        Values own = values(entry);
        if (attribute.isLink()) {
            own.ask(attribute.slot(), entry.now(attribute));
        } else if (attribute.isLater()) {
            own.ask(attribute.slot(), Doors.later().value(attribute.later(entry.object())));
        } else {
            own.ask(attribute.slot(), null);
            own.there.set(attribute.slot());
        }
    }

    /** The user has let an entry go: nothing is asked for it. */
    private void forget(Entry<?> entry) {
        values.remove(entry);
        fresh.remove(entry);
        removed.remove(entry);
    }

    /** The values that an object is to have; null for none in particular. */
    @Nullable
    Values of(Entry<?> entry) {
        return values.get(entry);
    }

    /** Those of which any values are asked. */
    Set<Entry<?>> valued() {
        return values.keySet();
    }

    /** New objects in the order in which they came, without those that were removed since. */
    List<Entry<?>> fresh() {
        return fresh.keySet().stream()
                .filter(entry -> !removed.contains(entry))
                .sorted(Comparator.comparingInt(Entry::number))
                .toList();
    }

    boolean isAdded(Entry<?> entry) {
        return fresh.getOrDefault(entry, false);
    }

    /** The new object that had a key for a while; null where the key is that of a row. */
    @Nullable
    Entry<?> storedAs(RowKey row) {
        return stored.get(row);
    }

    /** The rows that will never have been. */
    Set<RowKey> neverStored() {
        return stored.keySet();
    }

    Set<Entry<?>> removed() {
        return new LinkedHashSet<>(removed);
    }

    boolean isRemoved(Entry<?> entry) {
        return removed.contains(entry);
    }

    /** Whether an object is to be gone that was new. */
    boolean isToBeGone(Object object) {
        if (removedObjects == null) {
            Set<Object> objects = Collections.newSetFromMap(new IdentityHashMap<>());
            removed.forEach(entry -> objects.add(entry.object()));
            removedObjects = objects;
        }
        return removedObjects.contains(object);
    }

    /** The parts that an owner is to have; null for those of its rows. */
    @Nullable
    List<@Nullable Object> parts(Entry<?> owner, PartsAttribute attribute) {
        return parts.get(new Collection(owner, attribute));
    }

    /** Whether the collection holds what it is to hold. */
    boolean arePartsThere(Entry<?> owner, PartsAttribute attribute) {
        return partsThere.contains(new Collection(owner, attribute));
    }

    List<Request.Pairs> pairs() {
        return pairs;
    }

    List<LooseRow> loose() {
        return loose;
    }
}
