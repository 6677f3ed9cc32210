package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.error.BathraException;
import io.bathra.model.LinkAttribute;
import io.bathra.model.LinksAttribute;
import org.jspecify.annotations.Nullable;

/** Keeps the two sides of every association in step: the link on one, the to-many on the other. Reads nothing. */
final class BothSides {
    private final Tracker tracker;

    BothSides(Tracker tracker) {
        this.tracker = tracker;
    }

    void pointed(
            Entry<?> owner,
            LinkAttribute link,
            @Nullable Object before,
            @Nullable Object beforeKey,
            @Nullable Object after) {
        Entry<?> unread = beforeKey == null ? null : tracker.entry(link.target(), beforeKey);
        Object old = before != null ? before : unread == null ? null : unread.object();
        if (old != null) {
            hide(owner, link, old);
        }
        if (after != null) {
            tracker.attachNew(after);
            show(owner, link, after);
        }
    }

    void included(Entry<?> owner, LinksAttribute many, Object element) {
        LinkAttribute back = many.otherEnd();
        Object holder = back.holder(element);
        Object old = knownTarget(back, holder);
        if (old != null && old != owner.object()) {
            Doors.links().exclude(many.holder(old), element);
        }
        Doors.link().point(holder, owner.object());
        tracker.attachNew(element);
    }

    void excluded(Entry<?> owner, LinksAttribute many, Object element) {
        if (!many.target().type().isInstance(element)) {
            return;
        }
        Object holder = many.otherEnd().holder(element);
        if (knownTarget(many.otherEnd(), holder) == owner.object()) {
            Doors.link().point(holder, null);
        }
    }

    /** Where a link leads, as far as that is known without reading. */
    @Nullable
    Object knownTarget(LinkAttribute link, Object holder) {
        Object key = Doors.link().unreadKey(holder);
        if (key == null) {
            return Doors.link().target(holder);
        }
        Entry<?> entry = tracker.entry(link.target(), key);
        return entry == null ? null : entry.object();
    }

    void show(Entry<?> owner, LinkAttribute link, Object target) {
        LinksAttribute otherEnd = link.otherEnd();
        if (otherEnd != null) {
            Doors.links().include(otherEnd.holder(target), owner.object());
        }
    }

    void hide(Entry<?> owner, LinkAttribute link, Object target) {
        LinksAttribute otherEnd = link.otherEnd();
        if (otherEnd != null) {
            Doors.links().exclude(otherEnd.holder(target), owner.object());
        }
    }

    void showInToManys(Entry<?> entry) {
        for (LinkAttribute link : entry.entity().links()) {
            Object target = knownTarget(link, link.holder(entry.object()));
            if (target != null) {
                show(entry, link, target);
            }
        }
    }

    void pointBack(Entry<?> owner, LinksAttribute many, Object element) {
        Object holder = many.otherEnd().holder(element);
        Object target = Doors.link().target(holder);
        if (target != null && target != owner.object()) {
            throw new BathraException(
                    owner + "." + many.name() + " holds a " + many.target().name() + " whose "
                            + many.otherEnd().name() + " leads to another "
                            + owner.entity().name()
                            + "; point it to this one, or take it out");
        }
        Doors.link().point(holder, owner.object());
    }
}
