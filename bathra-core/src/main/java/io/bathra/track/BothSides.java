package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.error.BathraException;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.OtherSide;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.ToMany;
import io.bathra.track.Belongings.HiddenFrom;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Keeps the two sides of every association in step: the link on one, the to-many on the other. Reads nothing. */
final class BothSides {
    private final Tracker tracker;

    /** Whether any other side can have been read: as long as none has, rows are spared the look for it. */
    private boolean anyRead;

    BothSides(Tracker tracker) {
        this.tracker = tracker;
    }

    /** Another side has been read or pointed, or its object came with what it holds. */
    void isRead() {
        anyRead = true;
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
            tracker.attachNew(after, link.cascades());
            show(owner, link, after);
        }
    }

    /** The user has pointed the side of a one-to-one association that does not hold the foreign key. */
    void backPointed(Entry<?> owner, InverseAttribute back, @Nullable Object before, @Nullable Object after) {
        isRead();
        LinkAttribute link = back.otherEnd();
        if (before != null) {
            Doors.link().point(link.holder(before), null);
        }
        if (after != null) {
            Object old = knownTarget(link, link.holder(after));
            if (old != null && old != owner.object()) {
                Doors.link().point(back.holder(old), null);
            }
            Doors.link().point(link.holder(after), owner.object());
            tracker.attachNew(after, true);
        }
    }

    void included(Entry<?> owner, ToMany many, Object element) {
        if (many instanceof PivotAttribute pivot) {
            tracker.attachNew(element, many.cascades());
            showPair(owner, pivot, element);
            return;
        }
        LinksAttribute links = (LinksAttribute) many;
        LinkAttribute back = links.otherEnd();
        Object holder = back.holder(element);
        Object old = knownTarget(back, holder);
        if (old != null && old != owner.object()) {
            Doors.links().exclude(links.holder(old), element);
        }
        Doors.link().point(holder, owner.object());
        tracker.attachNew(element, many.cascades());
    }

    void excluded(Entry<?> owner, ToMany many, Object element) {
        if (!many.target().type().isInstance(element)) {
            return;
        }
        if (many instanceof PivotAttribute pivot) {
            if (pivot.otherSide() != null) {
                Doors.links().exclude(pivot.otherSide().holder(element), owner.object());
            }
            return;
        }
        LinkAttribute back = ((LinksAttribute) many).otherEnd();
        Object holder = back.holder(element);
        if (knownTarget(back, holder) == owner.object()) {
            Doors.link().point(holder, null);
        }
    }

    void showPair(Entry<?> owner, PivotAttribute pivot, Object element) {
        if (pivot.otherSide() != null) {
            Doors.links().include(pivot.otherSide().holder(element), owner.object());
        }
    }

    /** An entity that is to be removed is no element of anything any more; its pairs go with it. */
    void hideFromPivots(Entry<?> entry) {
        for (PivotAttribute pivot : entry.entity().pivotsLeadingHere()) {
            for (Entry<?> owner : tracker.entries()) {
                if (owner.entity() == pivot.entity()) {
                    hideFrom(owner, pivot, entry);
                }
            }
        }
    }

    private static void hideFrom(Entry<?> owner, PivotAttribute pivot, Entry<?> removed) {
        Object holder = pivot.holder(owner.object());
        int index = Doors.links().drop(holder, removed.object());
        if (index >= 0) { // what the user has taken out before is still to be deleted
            Map<Object, @Nullable Long> pairs = owner.pairs(pivot);
            Object key = removed.key();
            boolean stored = pairs != null && key != null && pairs.containsKey(key);
            Long position = pairs != null && stored ? pairs.get(key) : null;
            if (key != null && stored) {
                owner.belongings().unpair(pivot, key);
            }
            hide(removed, new HiddenFrom(owner, pivot, stored, position, index));
        }
    }

    /** A removed entity was taken out of the elements of another one. */
    static void hide(Entry<?> removed, HiddenFrom from) {
        List<HiddenFrom> places = new ArrayList<>(removed.hiddenFrom());
        places.add(from);
        removed.belongings().hideFrom(places);
    }

    /** A removed entity has been taken back. */
    void showInPivots(Entry<?> entry) {
        for (HiddenFrom hidden : entry.hiddenFrom()) {
            Doors.links().includeAt(hidden.pivot().holder(hidden.owner().object()), hidden.index(), entry.object());
            Map<Object, @Nullable Long> pairs = hidden.owner().pairs(hidden.pivot());
            if (hidden.stored() && pairs != null && entry.key() != null) {
                hidden.owner().belongings().pair(hidden.pivot(), entry.key(), hidden.position());
            }
        }
        entry.forgetHiding();
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
        isRead();
        OtherSide otherSide = link.otherSide();
        if (otherSide instanceof InverseAttribute back) {
            Doors.link().point(back.holder(target), owner.object());
        } else if (otherSide != null) {
            Doors.links().include(otherSide.holder(target), owner.object());
        }
    }

    /** A row has come that leads to an object: it may have been moved there since the object's side was read. */
    void showIfRead(Entry<?> owner, LinkAttribute link, Object key) {
        Entry<?> target = anyRead ? tracker.entry(link.target(), key) : null;
        if (target == null) {
            return;
        }
        OtherSide otherSide = Objects.requireNonNull(link.otherSide());
        Object holder = otherSide.holder(target.object());
        boolean read = otherSide instanceof InverseAttribute
                ? Doors.link().isRead(holder) && Doors.link().target(holder) == null
                : Doors.links().isRead(holder);
        if (read) {
            show(owner, link, target.object());
        }
    }

    void hide(Entry<?> owner, LinkAttribute link, Object target) {
        isRead();
        OtherSide otherSide = link.otherSide();
        if (otherSide instanceof InverseAttribute back) {
            Object holder = back.holder(target);
            boolean stored = Objects.equals(owner.before(link), tracker.keyOf(target)); // so nobody else leads there
            if (Doors.link().target(holder) == owner.object() || (!Doors.link().isRead(holder) && stored)) {
                Doors.link().point(holder, null);
            }
        } else if (otherSide != null) {
            Doors.links().exclude(otherSide.holder(target), owner.object());
        }
    }

    void showInToManys(Entry<?> entry) {
        for (LinkAttribute link : entry.entity().links()) {
            Object target = knownTarget(link, link.holder(entry.object()));
            if (target != null && !isTaken(link, target)) {
                show(entry, link, target);
            }
        }
    }

    /** Whether the other side of a one-to-one association leads elsewhere meanwhile. */
    private static boolean isTaken(LinkAttribute link, Object target) {
        return link.otherSide() instanceof InverseAttribute back && Doors.link().target(back.holder(target)) != null;
    }

    void pointBack(Entry<?> owner, OtherSide side, Object element) {
        Object holder = side.otherEnd().holder(element);
        Object target = Doors.link().target(holder);
        if (target != null && target != owner.object()) {
            throw new BathraException(
                    owner + "." + side.name() + " holds a " + side.target().name() + " whose "
                            + side.otherEnd().name() + " leads to another "
                            + owner.entity().name()
                            + "; point it to this one, or take it out");
        }
        Doors.link().point(holder, owner.object());
    }

    /** Takes an entity out of whatever shows it. */
    void hideEverywhere(Entry<?> entry) {
        for (LinkAttribute link : entry.entity().links()) {
            Object target = knownTarget(link, link.holder(entry.object()));
            if (target != null) {
                hide(entry, link, target);
            }
        }
        hideFromPivots(entry);
    }
}
