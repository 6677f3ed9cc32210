package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.error.UnreadLinkException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.ToMany;
import org.jspecify.annotations.Nullable;

/** What the holders of tracked objects tell: that the user has changed them, or asks for what is not here. */
final class HolderEvents {
    private final Tracker tracker;
    private final BothSides sides;
    private final RelationReader reader;

    HolderEvents(Tracker tracker, BothSides sides, RelationReader reader) {
        this.tracker = tracker;
        this.sides = sides;
        this.reader = reader;
    }

    void pointed(
            Entry<?> owner,
            Attribute association,
            @Nullable Object before,
            @Nullable Object beforeKey,
            @Nullable Object after) {
        if (tracker.isClosed()) {
            return;
        }
        if (association instanceof LinkAttribute link) {
            sides.pointed(owner, link, before, beforeKey, after);
        } else if (association instanceof InverseAttribute back) {
            sides.backPointed(owner, back, before, after);
        }
    }

    /** A link is pointed to a row of which the key alone is known; the object is taken where it is here. */
    void pointedToKey(
            Entry<?> owner, LinkAttribute link, @Nullable Object before, @Nullable Object beforeKey, Object key) {
        Entry<?> target = tracker.isClosed() ? null : tracker.entry(link.target(), key);
        Object holder = link.holder(owner.object());
        if (target == null) {
            Doors.link().unread(holder, key);
            tracker.arrivals().await(owner, link, key);
        } else {
            Doors.link().point(holder, target.object());
        }
        pointed(owner, link, before, beforeKey, target == null ? null : target.object());
    }

    void included(Entry<?> owner, ToMany many, Object element) {
        if (!tracker.isClosed()) {
            sides.included(owner, many, element);
        }
    }

    void excluded(Entry<?> owner, ToMany many, Object element) {
        if (!tracker.isClosed()) {
            sides.excluded(owner, many, element);
        }
    }

    void read(Entry<?> entry, Attribute association) {
        if (tracker.isClosed()) {
            throw new UnreadLinkException(entry.toString(), association.name(), association.accessor());
        }
        if (association instanceof StoredAttribute later && later.isLater()) {
            reader.readLater(entry, later);
        } else {
            reader.read(entry, association);
        }
    }
}
