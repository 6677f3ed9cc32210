package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Entry.State;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Brings entries in step with what a flush has written, and back to what they were. */
final class AfterFlush {
    private final Tracker tracker;

    /** Objects that are new again, by the keys that they had. */
    private final Map<RowKey, Object> reborn = new HashMap<>();

    AfterFlush(Tracker tracker) {
        this.tracker = tracker;
    }

    /** What an entry was before a flush. */
    record Memento(
            Entry<?> entry,
            State state,
            @Nullable Object key,
            @Nullable Object @Nullable [] snapshot,
            List<StoredAttribute> changedLaters,
            @Nullable Object version) {
        static Memento of(Entry<?> entry) {
            List<StoredAttribute> laters = entry.entity().laters();
            List<StoredAttribute> changed = laters.isEmpty()
                    ? List.of()
                    : laters.stream()
                            .filter(later -> Doors.later().isChanged(later.later(entry.object())))
                            .toList();
            ColumnAttribute version = entry.entity().version();
            return new Memento(
                    entry,
                    entry.state,
                    entry.key,
                    entry.snapshot,
                    changed,
                    version == null ? null : version.get(entry.object()));
        }
    }

    /** The row of a new object has been written. */
    void inserted(Entry<?> entry, @Nullable Object[] row) {
        entry.state = State.STORED;
        entry.key = Objects.requireNonNull(entry.entity().keyIn(row));
        entry.snapshot = row;
        if (!entry.isHidden()) {
            tracker.known(entry);
        }
        takeOver(entry, row);
    }

    /** The row of a changed object has been written. */
    void updated(Entry<?> entry, @Nullable Object[] row) {
        entry.snapshot = row;
        takeOver(entry, row);
    }

    /** The row of a removed object has been deleted. */
    void deleted(Entry<?> entry) {
        if (!entry.isHidden() && entry.state == State.STORED) {
            tracker.takeAlong(entry); // an orphan, which nobody has called removed
        } else if (!entry.isHidden()) {
            tracker.forget(entry);
        }
    }

    /** The object holds what the row holds: its key, and times and decimals as the column keeps them. */
    private void takeOver(Entry<?> entry, @Nullable Object[] row) {
        boolean replaced = false;
        for (StoredAttribute attribute : entry.entity().stored()) {
            if (!attribute.isLink() && !Objects.deepEquals(row[attribute.slot()], attribute.get(entry.object()))) {
                attribute.set(entry.object(), attribute.shape().kept(row[attribute.slot()]));
                replaced = true;
            }
        }
        if (replaced && entry.entity().kind() == ModelEntity.Kind.PARTS) {
            // A part that was made anew, since the row keeps less than was given, has empty links.
            for (LinkAttribute link : entry.entity().links()) {
                if (Doors.link().target(link.holder(entry.object())) == null) {
                    tracker.loader().write(entry, link, row[link.slot()]);
                }
            }
            entry.tieHolders();
        }
        for (StoredAttribute later : entry.entity().laters()) {
            row[later.slot()] = null; // the row is kept for comparison, and no copy of a large value with it
            Doors.later().changed(later.later(entry.object()), false);
        }
    }

    /** What was read in the transaction leads to keys of rows that were never there; it shall lead to the objects. */
    void pointToReborn() {
        if (reborn.isEmpty()) {
            return;
        }
        for (Entry<?> entry : tracker.entries()) {
            for (LinkAttribute link : entry.entity().links()) {
                Object holder = link.holder(entry.object());
                Object key = Doors.link().unreadKey(holder);
                Object target = key == null ? null : reborn.get(new RowKey(link.target(), key));
                if (target != null) {
                    Doors.link().point(holder, target);
                }
            }
            for (PivotAttribute pivot : entry.entity().pivots()) {
                Map<Object, @Nullable Long> pairs = entry.pairs(pivot);
                if (pairs != null) {
                    pairs.keySet().removeIf(key -> reborn.containsKey(new RowKey(pivot.target(), key)));
                }
            }
        }
        reborn.clear();
    }

    /** Takes back what a flush did. What the user has asked for since, a removal say, is still to be done. */
    void restore(Memento memento) {
        Entry<?> entry = memento.entry();
        memento.changedLaters().forEach(later -> Doors.later().changed(later.later(entry.object()), true));
        if (entry.isHidden()) {
            entry.state = memento.state();
            entry.key = memento.key();
            entry.snapshot = memento.snapshot();
            return;
        }
        if (memento.state() == State.NEW && entry.key != null) {
            reborn.put(new RowKey(entry.entity(), entry.key), entry.object());
            tracker.unknown(entry);
            if (entry.entity().keySource().isDrawn()) {
                entry.entity().clearKey(entry.object());
            }
        }
        if (entry.state == State.GONE && memento.state() == State.STORED) {
            entry.key = memento.key();
            tracker.bringBack(List.of(entry));
        } else if (entry.state == State.GONE) {
            entry.key = memento.key();
            tracker.comeBack(entry);
        }
        ColumnAttribute version = entry.entity().version();
        if (version != null && !(version.primitive() && memento.version() == null)) {
            version.set(entry.object(), memento.version());
        }
        boolean removedSince = entry.state == State.REMOVED;
        entry.state = removedSince && memento.state() == State.STORED ? State.REMOVED : memento.state();
        entry.key = memento.key();
        entry.snapshot = memento.snapshot();
        if (removedSince && memento.state() == State.NEW) {
            tracker.forget(entry); // the user has added and removed it: neither is left to do
        }
    }
}
