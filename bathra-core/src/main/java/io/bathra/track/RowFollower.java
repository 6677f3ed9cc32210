package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Gives objects what their rows hold, but where something else is asked for. */
final class RowFollower {
    private final Tracker tracker;
    private final BothSides sides;
    private final Wishes wishes;

    /** The object of a row that will never have been, or maybe was not; null where the row is there. */
    private final Function<RowKey, @Nullable Entry<?>> neverStored;

    RowFollower(Tracker tracker, BothSides sides, Wishes wishes, Function<RowKey, @Nullable Entry<?>> neverStored) {
        this.tracker = tracker;
        this.sides = sides;
        this.wishes = wishes;
        this.neverStored = neverStored;
    }

    /** An object has what its row holds, but where something else is asked for. */
    void follow(Entry<?> entry) {
        Wishes.Values asked = wishes.of(entry);
        @Nullable Object[] row = entry.state() == State.STORED ? entry.snapshot() : null;
        for (StoredAttribute attribute : entry.entity().stored()) {
            if (asked != null && asked.has(attribute)) {
                if (!asked.isThere(attribute)) {
                    give(entry, attribute, asked.of(attribute));
                }
            } else if (row != null && !attribute.isLater() && row[attribute.slot()] != Entry.UNKNOWN) {
                give(entry, attribute, row[attribute.slot()]);
            }
        }
        for (PartsAttribute parts : entry.entity().parts()) {
            if (!wishes.arePartsThere(entry, parts)) {
                follow(entry, parts);
            }
        }
    }

    private void give(Entry<?> entry, StoredAttribute attribute, @Nullable Object value) {
        if (attribute instanceof LinkAttribute link) {
            point(entry, link, value);
        } else if (attribute.isLater()) {
            tracker.loader().give(entry, attribute, value);
        } else if (Wishes.differs(() -> !attribute.same(value, attribute.get(entry.object())))) {
            attribute.set(entry.object(), attribute.kept(value));
        }
    }

    private void point(Entry<?> entry, LinkAttribute link, @Nullable Object value) {
        Entry<?> known = value instanceof Entry<?> one
                ? one
                : value == null || value instanceof Stranger
                        ? null
                        : neverStored.apply(new RowKey(link.target(), value));
        Object target = known != null ? known.object() : value instanceof Stranger stranger ? stranger.target() : null;
        if (target == null) {
            if (!Objects.equals(value, entry.now(link))) {
                tracker.loader().pointTo(entry, link, value);
            }
            return;
        }
        Object holder = link.holder(entry.object());
        Object old = sides.knownTarget(link, holder);
        if (old != target) {
            if (old != null) {
                sides.hide(entry, link, old);
            }
            Doors.link().point(holder, target);
        }
        sides.show(entry, link, target);
    }

    /** A collection holds the parts of its rows, or those that were asked for; what it holds already it keeps. */
    void follow(Entry<?> owner, PartsAttribute attribute) {
        List<@Nullable Object> asked = wishes.parts(owner, attribute);
        List<Entry<HiddenRow>> rows = Objects.requireNonNullElse(owner.parts(attribute), List.of());
        List<HiddenRow> wanted = new ArrayList<>();
        if (asked != null) {
            asked.forEach(part -> wanted.add(attribute.row(owner.object(), part, null)));
        } else if (owner.state() == State.STORED && !owner.isUnread()) {
            rows.forEach(row -> wanted.add(row.object()));
        } else {
            return;
        }
        List<@Nullable Object> now = attribute.now(owner.object());
        boolean same = now.size() == wanted.size();
        for (int i = 0; same && i < now.size(); i++) {
            same = attribute.holds(wanted.get(i), now.get(i));
        }
        if (!same) {
            attribute.fill(owner.object(), wanted);
        }
    }
}
