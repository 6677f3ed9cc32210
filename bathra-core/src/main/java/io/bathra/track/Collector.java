package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.model.KeySource;
import io.bathra.model.LinkAttribute;
import io.bathra.model.LinksAttribute;
import io.bathra.model.StoredAttribute;
import io.bathra.track.Entry.State;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collections;
import java.util.Deque;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Set;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** Finds what has changed: compares each tracked object with its row. */
public final class Collector {
    private final Tracker tracker;

    public Collector(Tracker tracker) {
        this.tracker = tracker;
    }

    /** Everything that a flush would have to write. */
    public Changes collect() {
        List<Change.Insert> inserts = new ArrayList<>();
        List<Change.Update> updates = new ArrayList<>();
        List<Change.Delete> deletes = new ArrayList<>();
        Predicate<Entry<?>> reached = reached();
        for (Entry<?> entry : tracker.entries()) {
            switch (entry.state()) {
                case NEW -> {
                    if (reached.test(entry)) {
                        inserts.add(new Change.Insert(entry, values(entry)));
                    }
                }
                case STORED -> {
                    BitSet changed = changed(entry);
                    if (changed != null) {
                        updates.add(new Change.Update(entry, changed, values(entry)));
                    }
                }
                case REMOVED -> deletes.add(new Change.Delete(entry));
                case GONE -> {}
            }
        }
        return new Changes(inserts, updates, deletes);
    }

    /** Whether anything in these states would be written; stops at the first that would. */
    public boolean hasChanges(Predicate<Entry<?>> among) {
        for (Entry<?> entry : tracker.entries()) {
            if (among.test(entry) && (entry.state() != State.STORED || entry.isDirty())) {
                return true;
            }
        }
        return false;
    }

    private static @Nullable BitSet changed(Entry<?> entry) {
        BitSet changed = null;
        for (StoredAttribute attribute : entry.entity().stored()) {
            if (entry.isChanged(attribute)) {
                changed = changed == null ? new BitSet() : changed;
                changed.set(attribute.slot());
            }
        }
        return changed;
    }

    private static @Nullable Object[] values(Entry<?> entry) {
        List<StoredAttribute> stored = entry.entity().stored();
        @Nullable Object[] values = new Object[stored.size()];
        for (int slot = 0; slot < values.length; slot++) {
            StoredAttribute attribute = stored.get(slot);
            Object now = entry.now(attribute);
            values[slot] =
                    attribute instanceof LinkAttribute ? now : attribute.shape().kept(now);
        }
        if (entry.state() == State.NEW && entry.entity().keySource() == KeySource.GENERATED) {
            values[0] = entry.entity().drawnKeyOf(entry.object());
        }
        return values;
    }

    /**
     * New objects are stored when the user has added them, or when one that is stored reaches them. One that was reached
     * for a while and is not any more stays out.
     */
    private Predicate<Entry<?>> reached() {
        if (tracker.entries().stream().allMatch(entry -> entry.state() != State.NEW || entry.added)) {
            return entry -> true;
        }
        Set<Entry<?>> reached = Collections.newSetFromMap(new IdentityHashMap<>());
        Deque<Entry<?>> open = new ArrayDeque<>();
        for (Entry<?> entry : tracker.entries()) {
            if (entry.state() == State.STORED || entry.added) {
                open.add(entry);
                reached.add(entry);
            }
        }
        while (!open.isEmpty()) {
            for (Entry<?> neighbour : neighbours(open.poll())) {
                if (neighbour.state() == State.NEW && reached.add(neighbour)) {
                    open.add(neighbour);
                }
            }
        }
        return reached::contains;
    }

    private List<Entry<?>> neighbours(Entry<?> entry) {
        List<Object> objects = new ArrayList<>();
        for (LinkAttribute link : entry.entity().links()) {
            Object target = Doors.link().target(link.holder(entry.object()));
            if (target != null) {
                objects.add(target);
            }
        }
        for (LinksAttribute many : entry.entity().toManys()) {
            objects.addAll(Doors.links().present(many.holder(entry.object())));
        }
        List<Entry<?>> neighbours = new ArrayList<>();
        for (Object object : objects) {
            Entry<?> neighbour = tracker.entryOf(object);
            if (neighbour != null) {
                neighbours.add(neighbour);
            }
        }
        return neighbours;
    }
}
