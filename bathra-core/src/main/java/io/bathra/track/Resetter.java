package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.error.Conflict;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Throws changes away, or puts them on top of what somebody else has stored. */
public final class Resetter {
    private final Tracker tracker;

    public Resetter(Tracker tracker) {
        this.tracker = tracker;
    }

    /** Gives an object the values of its row as it was read again, whatever it has now. */
    public void refresh(Entry<?> entry, @Nullable Object[] row) {
        tracker.journal().read(entry);
        reset(entry, row);
    }

    /** Gives an object the values of a row, whatever it has now. */
    public void reset(Entry<?> entry, @Nullable Object[] row) {
        for (StoredAttribute attribute : entry.entity().withRow()) {
            Object there = row[attribute.slot()];
            if (Wishes.differs(() -> !Entry.same(attribute, there, entry.now(attribute)))) {
                give(entry, attribute, there);
            }
        }
        for (StoredAttribute later : entry.entity().laters()) {
            Doors.later().unread(later.later(entry.object()));
        }
        for (PartsAttribute parts : entry.entity().parts()) {
            List<Entry<HiddenRow>> before = Objects.requireNonNullElse(entry.parts(parts), List.of());
            entry.belongings().putParts(parts, null);
            tracker.loader().parts(entry, parts, before.stream().map(Entry::row).toList());
        }
        entry.entity().pivots().forEach(pivot -> resetPairs(entry, pivot));
        entry.remember(row);
        tracker.takeBack(entry); // not before it has the values that the other sides shall show
    }

    private void give(Entry<?> entry, StoredAttribute attribute, @Nullable Object value) {
        if (attribute instanceof LinkAttribute link) {
            tracker.loader().repoint(entry, link, value);
        } else {
            attribute.set(entry.object(), attribute.shape().kept(value));
        }
    }

    private void resetPairs(Entry<?> entry, PivotAttribute pivot) {
        Object holder = pivot.holder(entry.object());
        PivotAttribute otherSide = pivot.otherSide();
        Map<Object, @Nullable Long> pairs = entry.pairs(pivot);
        List<Object> stored = new ArrayList<>();
        if (pairs != null) {
            for (Object key : inOrder(pivot, pairs)) {
                Entry<?> target = tracker.entry(pivot.target(), key);
                if (target != null) {
                    stored.add(target.object());
                }
            }
        }
        if (otherSide != null) {
            for (Object element : Doors.links().present(holder)) {
                if (!stored.contains(element)) {
                    Doors.links().drop(otherSide.holder(element), entry.object());
                }
            }
            for (Object element : pairs == null ? Doors.links().taken(holder) : stored) {
                Object other = otherSide.holder(element);
                Doors.links().forgetTaken(other, entry.object());
                if (Doors.links().isRead(other)) {
                    Doors.links().include(other, entry.object());
                }
            }
        }
        if (pairs == null) {
            Doors.links().pending(holder, List.of(), List.of());
        } else {
            Doors.links().fill(holder, stored);
        }
    }

    private static List<Object> inOrder(PivotAttribute pivot, Map<Object, @Nullable Long> pairs) {
        List<Object> keys = new ArrayList<>(pairs.keySet());
        if (pivot.order() != null) {
            keys.sort(Comparator.comparing(pairs::get, Comparator.nullsLast(Comparator.naturalOrder())));
        }
        return keys;
    }

    /** Pairs that were read are read anew when they are visited. */
    public void readPairsAgain(Entry<?> entry) {
        for (PivotAttribute pivot : entry.entity().pivots()) {
            Doors.links().unread(pivot.holder(entry.object()));
            entry.belongings().putPairs(pivot, null);
        }
        entry.forgetHiding();
    }

    /**
     * Takes over what somebody else has made of a row, where this unit has changed other attributes.
     *
     * @return what both have changed; then nothing is taken over
     */
    public List<Conflict> rebase(Entry<?> entry, @Nullable Object[] theirs) {
        List<Conflict> both = new ArrayList<>();
        for (Conflict conflict : entry.conflicts(theirs)) {
            boolean mine = entry.state() == State.REMOVED
                    || (!Objects.equals(conflict.read(), conflict.mine())
                            && !Objects.equals(conflict.mine(), conflict.theirs()));
            if (mine) {
                both.add(conflict);
            }
        }
        if (both.isEmpty()) {
            for (StoredAttribute attribute : entry.entity().withRow()) {
                Object before = entry.before(attribute);
                Object there = theirs[attribute.slot()];
                boolean untouched = Entry.same(attribute, before, entry.now(attribute));
                if (untouched && !Entry.same(attribute, before, there)) {
                    give(entry, attribute, there);
                }
            }
            tracker.journal().read(entry);
            entry.remember(theirs);
        }
        return both;
    }
}
