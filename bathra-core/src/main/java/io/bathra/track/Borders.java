package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.ToMany;
import io.bathra.track.Entry.State;
import java.util.Arrays;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Brings objects of elsewhere into a tracker, and lets others go. */
public final class Borders {
    private final Tracker tracker;

    Borders(Tracker tracker) {
        this.tracker = tracker;
    }

    /** Begins to track an object that came from elsewhere as one with this row; its own values count as changes. */
    public <E> Entry<E> adopt(ModelEntity<E> entity, E object, @Nullable Object[] row) {
        Entry<E> entry = tracker.create(object, State.STORED);
        tracker.journal().holders(entry);
        tracker.journal().read(entry);
        entry.stand(State.STORED, Objects.requireNonNull(entity.keyIn(row)), row);
        tracker.known(entry);
        for (LinkAttribute link : entity.links()) {
            Object holder = link.holder(object);
            Object target = Doors.link().target(holder);
            Object key = target == null || tracker.entryOf(target) != null
                    ? null
                    : link.target().keyOf(target);
            if (key != null) {
                Doors.link().unread(holder, key);
            } else if (target != null) {
                tracker.attachNew(target, link.cascades());
            }
        }
        for (ToMany many : entity.allToManys()) {
            Doors.links().unread(many.holder(object));
        }
        for (InverseAttribute back : entity.inverses()) {
            Doors.link().unknown(back.holder(object));
        }
        return entry;
    }

    /** Begins to track an object that came from elsewhere, of whose row the key and the version alone are known. */
    public <E> Entry<E> adoptUnread(ModelEntity<E> entity, E object, Object version) {
        @Nullable Object[] row = new Object[entity.stored().size()];
        Arrays.fill(row, Entry.UNKNOWN);
        for (StoredAttribute attribute : entity.keyAttributes()) {
            row[attribute.slot()] = attribute.get(object);
        }
        row[Objects.requireNonNull(entity.version()).slot()] = version;
        entity.laters().forEach(later -> row[later.slot()] = null);
        return adopt(entity, object, row);
    }

    /** Stops to track an unchanged entity; whatever leads to it is unread again. */
    void release(Entry<?> gone) {
        tracker.journal().released(gone);
        tracker.forget(gone);
        Object object = gone.object();
        tracker.isStranger(object);
        for (Entry<?> entry : tracker.entries()) {
            for (LinkAttribute link : entry.entity().links()) {
                Object holder = link.holder(entry.object());
                if (Doors.link().target(holder) == object && gone.key() != null) {
                    Doors.link().unread(holder, gone.key());
                }
            }
            for (InverseAttribute back : entry.entity().inverses()) {
                Object holder = back.holder(entry.object());
                if (Doors.link().target(holder) == object && entry.state() == State.STORED) {
                    Doors.link().unknown(holder);
                }
            }
            for (ToMany many : entry.entity().allToManys()) {
                Object holder = many.holder(entry.object());
                if (entry.state() == State.STORED
                        && many.target() == gone.entity()
                        && Doors.links().present(holder).contains(object)) {
                    Doors.links().unread(holder);
                    if (many instanceof PivotAttribute pivot) {
                        entry.belongings().putPairs(pivot, null);
                    }
                }
            }
        }
    }
}
