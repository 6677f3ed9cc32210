package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.ToMany;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * Both sides of associations when a transaction has gone back: they show what is asked for, and none that was let go.
 */
final class SidesAgain {
    private final Tracker tracker;
    private final BothSides sides;
    private final Wishes wishes;

    /** The entries that the user has let go, by their objects. */
    private final Map<Object, Entry<?>> released;

    /** Entries that maybe stand for rows, by these. */
    private final Map<RowKey, Entry<?>> doubtful;

    SidesAgain(
            Tracker tracker,
            BothSides sides,
            Wishes wishes,
            Map<Object, Entry<?>> released,
            Map<RowKey, Entry<?>> doubtful) {
        this.tracker = tracker;
        this.sides = sides;
        this.wishes = wishes;
        this.released = released;
        this.doubtful = doubtful;
    }

    /** The object that stands for the row of one that was let go; the same where none does. */
    private Object standIn(Object object) {
        Entry<?> gone = isLetGo(object) ? released.get(object) : null;
        if (gone == null || gone.key() == null) {
            return object;
        }
        RowKey row = new RowKey(gone.entity(), gone.key());
        Entry<?> known = tracker.entry(row.entity(), row.key());
        Entry<?> now = known != null ? known : doubtful.get(row);
        return now == null ? object : now.object();
    }

    /** The other sides show a new object where it has been all the time. */
    void showAgain(Entry<?> entry) {
        if (!isLive(entry) || entry.state() != State.NEW) {
            return;
        }
        dropLetGo(entry);
        for (LinkAttribute link : entry.entity().links()) {
            Object target = Doors.link().target(link.holder(entry.object()));
            if (target != null) {
                sides.show(entry, link, target);
            }
        }
        for (PivotAttribute pivot : entry.entity().pivots()) {
            for (Object element : pivot.present(entry.object())) {
                sides.showPair(entry, pivot, element);
            }
        }
    }

    /** What a new object shows cannot be read again, so it does not show those that were let go. */
    private void dropLetGo(Entry<?> fresh) {
        if (released.isEmpty()) {
            return;
        }
        for (ToMany many : fresh.entity().allToManys()) {
            Object holder = many.holder(fresh.object());
            Doors.links().present(holder).stream()
                    .filter(this::isLetGo)
                    .forEach(one -> Doors.links().drop(holder, one));
        }
        for (InverseAttribute back : fresh.entity().inverses()) {
            Object holder = back.holder(fresh.object());
            Object target = Doors.link().target(holder);
            if (target != null && isLetGo(target)) {
                Doors.link().point(holder, null);
            }
        }
    }

    private boolean isLetGo(Object object) {
        return released.containsKey(object) && tracker.entryOf(object) == null;
    }

    /** The other sides show an object where it is to be, though its row is elsewhere. */
    void showAskedLinks(Entry<?> entry) {
        Wishes.Values asked = wishes.of(entry);
        if (asked == null || !isLive(entry) || entry.state() != State.STORED) {
            return;
        }
        for (LinkAttribute link : entry.entity().links()) {
            Object target = Doors.link().target(link.holder(entry.object()));
            if (target != null && asked.has(link)) {
                sides.show(entry, link, target);
            }
        }
    }

    void pairAgain(Request.Pairs asked) {
        Entry<?> owner = asked.owner();
        if (!isLive(owner) || owner.state() == State.REMOVED) {
            return;
        }
        Object holder = asked.pivot().holder(owner.object());
        for (Object one : asked.in()) {
            Object element = standIn(one);
            Entry<?> target = tracker.entryOf(element);
            if (target == null
                    ? !tracker.isGone(element) && !wishes.isToBeGone(element)
                    : target.state() != State.REMOVED) {
                Doors.links().include(holder, element);
            }
        }
        asked.out().forEach(element -> Doors.links().exclude(holder, standIn(element)));
        if (asked.order() != null && Doors.links().isRead(holder)) {
            List<Object> ordered = new ArrayList<>();
            asked.order().forEach(element -> ordered.add(standIn(element)));
            List<Object> present = Doors.links().present(holder);
            ordered.retainAll(present);
            present.removeAll(ordered);
            ordered.addAll(present);
            Doors.links().pending(holder, ordered, Doors.links().taken(holder));
        }
    }

    private boolean isLive(Entry<?> entry) {
        return tracker.entryOf(entry.object()) == entry;
    }
}
