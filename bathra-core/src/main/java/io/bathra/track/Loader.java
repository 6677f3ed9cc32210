package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.ToMany;
import io.bathra.track.Belongings.HiddenFrom;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Brings what was read into objects: new ones, and known ones that have no changes; collections as far as they are
 * unread.
 */
public final class Loader {
    private final Tracker tracker;
    private final BothSides sides;

    Loader(Tracker tracker, BothSides sides) {
        this.tracker = tracker;
        this.sides = sides;
    }

    /**
     * Takes a row that was read and is not known here into the map, as the object given for it.
     *
     * @param alone whether nobody is going to look for its key as long as rows are read
     */
    public <E> Entry<E> stored(ModelEntity<E> entity, E object, @Nullable Object[] row, boolean alone) {
        Entry<E> entry = tracker.create(entity, object, State.STORED);
        tracker.journal().read(entry);
        entry.stand(State.STORED, Objects.requireNonNull(entity.keyIn(row)), null);
        if (alone) {
            tracker.knownAnew(entry);
        } else {
            tracker.known(entry);
        }
        try {
            entity.load(object, row);
            List<LinkAttribute> links = entity.links();
            for (int i = 0; i < links.size(); i++) { // no iterator: this is done for each row
                LinkAttribute link = links.get(i);
                Object key = row[link.slot()];
                write(entry, link, key);
                if (key != null && link.otherSide() != null) {
                    sides.showIfRead(entry, link, key);
                }
            }
        } catch (RuntimeException e) {
            tracker.forget(entry); // a value that cannot be converted must not leave half an object behind
            throw e;
        }
        if (entity.hasHolders()) {
            unreadAll(entity, object);
        }
        entry.remember(row);
        tracker.arrivals().arrived(entry);
        LooseRow pending = tracker.loose().take(entry);
        if (pending != null) {
            pending.pourInto(entry);
        }
        return entry;
    }

    private static void unreadAll(ModelEntity<?> entity, Object object) {
        for (ToMany many : entity.allToManys()) {
            Doors.links().unread(many.holder(object));
        }
        for (InverseAttribute back : entity.inverses()) {
            Doors.link().unknown(back.holder(object));
        }
        for (StoredAttribute later : entity.laters()) {
            Doors.later().unread(later.later(object));
        }
    }

    /** Takes the rows of an owner's parts as they were read, in their order. */
    public List<Entry<HiddenRow>> parts(Entry<?> owner, PartsAttribute attribute, List<@Nullable Object[]> rows) {
        List<Entry<HiddenRow>> before = Objects.requireNonNullElse(owner.parts(attribute), List.of());
        boolean same = before.size() == rows.size();
        for (int i = 0; same && i < rows.size(); i++) {
            same = PartsDifference.sameRow(before.get(i), rows.get(i));
        }
        if (same && !before.isEmpty()) {
            return before; // the collection holds them already, and whoever has taken an element keeps it
        }
        List<Entry<HiddenRow>> entries = noteParts(owner, attribute, rows);
        boolean empty = attribute.get(owner.object()) != null
                && attribute.now(owner.object()).isEmpty();
        if (!empty || !entries.isEmpty()) { // whoever has taken an empty collection may be about to fill it
            attribute.fill(owner.object(), entries.stream().map(Entry::object).toList());
        }
        return entries;
    }

    private Entry<HiddenRow> part(Entry<?> owner, PartsAttribute attribute, @Nullable Object[] row, int index) {
        ModelEntity<HiddenRow> rows = attribute.parts().rows();
        Entry<HiddenRow> entry = new Entry<>(tracker, rows, rows.instantiate(), tracker.numbers(), State.STORED);
        for (StoredAttribute stored : rows.stored()) {
            if (stored == attribute.parts().owner()) {
                attribute.setOwner(entry.object(), owner.object());
            } else {
                write(entry, stored, row[stored.slot()]);
            }
        }
        entry.stand(State.STORED, Objects.requireNonNull(rows.keyIn(row)), row);
        entry.ownedBy(owner, () -> "." + attribute.name() + "[" + index + "]");
        entry.tieHolders();
        return entry;
    }

    /** Takes note of the rows of an owner's parts, and leaves the collection as it is. */
    public List<Entry<HiddenRow>> noteParts(Entry<?> owner, PartsAttribute attribute, List<@Nullable Object[]> rows) {
        List<Entry<HiddenRow>> entries = new ArrayList<>(rows.size());
        for (int i = 0; i < rows.size(); i++) {
            entries.add(part(owner, attribute, rows.get(i), i));
        }
        owner.belongings().putParts(attribute, entries);
        return entries;
    }

    /** Whether an object may be brought up to date with its row, since nothing would be lost. */
    private static boolean isClean(Entry<?> entry) {
        return entry.state() == State.STORED && !entry.isDirty();
    }

    /** Brings a known, unchanged object up to date with its row; one with changes is left alone. Tells which it was. */
    public boolean refresh(Entry<?> entry, @Nullable Object[] row) {
        if (!isClean(entry)) {
            return false;
        }
        tracker.journal().read(entry);
        overwrite(entry, row);
        return true;
    }

    /** A statement of this transaction has made a row of an unchanged object into this one. */
    void overwritten(Entry<?> entry, @Nullable Object[] row) {
        if (isClean(entry)) {
            overwrite(entry, row);
        }
    }

    private void overwrite(Entry<?> entry, @Nullable Object[] row) {
        @Nullable Object[] before = entry.snapshot() == null ? rowNow(entry) : entry.snapshot();
        try {
            bringUpToDate(entry, before, row);
        } catch (RuntimeException e) {
            bringUpToDate(entry, row, before); // a value that cannot be converted leaves the object as it was
            throw e;
        }
        entry.remember(row);
        unreadLaters(entry);
    }

    private static void unreadLaters(Entry<?> entry) {
        for (StoredAttribute later : entry.entity().laters()) {
            Doors.later().unread(later.later(entry.object()));
        }
    }

    private static @Nullable Object[] rowNow(Entry<?> entry) {
        @Nullable Object[] row = new Object[entry.entity().stored().size()];
        for (StoredAttribute attribute : entry.entity().withRow()) {
            row[attribute.slot()] = entry.keptNow(attribute);
        }
        return row;
    }

    private void bringUpToDate(Entry<?> entry, @Nullable Object[] from, @Nullable Object[] to) {
        for (StoredAttribute attribute : entry.entity().withRow()) {
            Object before = from[attribute.slot()];
            Object after = to[attribute.slot()];
            if (attribute instanceof LinkAttribute link && !Objects.equals(before, after)) {
                repoint(entry, link, after);
            } else if (!attribute.isLink() && !attribute.same(before, after)) {
                attribute.set(entry.object(), attribute.shape().kept(after));
            }
        }
    }

    /** Gives a column of a known object another value, in the form in which it is stored; that is a change. */
    public void give(Entry<?> entry, StoredAttribute attribute, @Nullable Object stored) {
        attribute.set(entry.object(), stored);
        if (attribute.isLater()) {
            Doors.later().changed(attribute.later(entry.object()), true);
        }
    }

    /** Points a link of a known object to the row with a key, as the user would. */
    public void pointTo(Entry<?> entry, LinkAttribute link, @Nullable Object key) {
        repoint(entry, link, key);
        if (key != null && tracker.entry(link.target(), key) == null) {
            tracker.arrivals().await(entry, link, key);
        }
    }

    /** The database takes a foreign key for the same as a key that is written otherwise, and so does the unit. */
    public void takeForSame(Entry<?> entry, LinkAttribute link, Object key) {
        if (entry.snapshot() != null) {
            entry.expect(link, key);
        }
        Object holder = link.holder(entry.object());
        if (Doors.link().unreadKey(holder) != null) {
            Doors.link().unread(holder, key);
        }
    }

    void repoint(Entry<?> entry, LinkAttribute link, @Nullable Object key) {
        Object old = sides.knownTarget(link, link.holder(entry.object()));
        if (old != null) {
            sides.hide(entry, link, old);
        }
        write(entry, link, key);
        Entry<?> target = key == null ? null : tracker.entry(link.target(), key);
        if (target != null) {
            sides.show(entry, link, target.object());
        }
    }

    void write(Entry<?> entry, StoredAttribute attribute, @Nullable Object value) {
        if (attribute instanceof LinkAttribute link) {
            Object holder = link.holder(entry.object());
            if (value == null) {
                Doors.link().point(holder, null);
            } else {
                Doors.link().unread(holder, value);
            }
        } else {
            attribute.load(entry.object(), value);
        }
    }

    /** Fills a to-many with the entries that were read for it, corrected by what this unit has changed since. */
    public void fill(Entry<?> owner, LinksAttribute many, List<Entry<?>> read) {
        sides.isRead();
        Object holder = many.holder(owner.object());
        LinkAttribute back = many.otherEnd();
        List<Object> elements = new ArrayList<>();
        for (Entry<?> child : read) {
            Object childHolder = back.holder(child.object());
            if (child.state() == State.STORED && sides.knownTarget(back, childHolder) == owner.object()) {
                Doors.link().point(childHolder, owner.object());
                elements.add(child.object());
            }
        }
        elements.addAll(Doors.links().present(holder));
        Doors.links().fill(holder, elements);
    }

    /** Fills a pivot's links with the entries that were read for it, corrected by what this unit has changed since. */
    public void fill(Entry<?> owner, PivotAttribute pivot, Map<Entry<?>, @Nullable Long> read) {
        Object holder = pivot.holder(owner.object());
        Map<Object, @Nullable Long> pairs = new LinkedHashMap<>();
        List<Object> elements = new ArrayList<>();
        List<Object> taken = Doors.links().taken(holder);
        Set<Object> without = Collections.newSetFromMap(new IdentityHashMap<>());
        without.addAll(taken);
        read.forEach((element, position) -> {
            if (element.state() == State.STORED) {
                pairs.put(Objects.requireNonNull(element.key()), position);
                if (!without.contains(element.object())) {
                    elements.add(element.object());
                }
            } else if (element.state() == State.REMOVED) {
                BothSides.hide(element, new HiddenFrom(owner, pivot, true, position, Integer.MAX_VALUE));
            }
        });
        Doors.links().present(holder).stream()
                .filter(element -> !tracker.isGone(element))
                .forEach(elements::add);
        settleOtherSides(owner, pivot, pairs, taken);
        Doors.links().fill(holder, elements);
        owner.belongings().putPairs(pivot, pairs);
    }

    /** What this reading has shown to be there, or not to be there, the other sides need not do any more. */
    private void settleOtherSides(
            Entry<?> owner, PivotAttribute pivot, Map<Object, @Nullable Long> pairs, List<Object> taken) {
        PivotAttribute otherSide = pivot.otherSide();
        if (otherSide == null) {
            return;
        }
        for (Object element : taken) {
            Entry<?> target = tracker.entryOf(element);
            if (target != null && target.key() != null && !pairs.containsKey(target.key())) {
                Doors.links().forgetTaken(otherSide.holder(element), owner.object());
            }
        }
        for (Object element : Doors.links().present(pivot.holder(owner.object()))) {
            Entry<?> target = tracker.entryOf(element);
            Object holder = otherSide.holder(element);
            if (target != null
                    && target.key() != null
                    && pairs.containsKey(target.key())
                    && !Doors.links().isRead(holder)) {
                Doors.links().drop(holder, owner.object());
            }
        }
    }

    /** Fills the side of a one-to-one association without the foreign key, as far as it is not known better since. */
    public void fill(Entry<?> owner, InverseAttribute back, @Nullable Entry<?> read) {
        sides.isRead();
        Object holder = back.holder(owner.object());
        if (read != null
                && read.state() == State.STORED
                && sides.knownTarget(back.otherEnd(), back.otherEnd().holder(read.object())) == owner.object()) {
            Doors.link().point(holder, read.object());
            Doors.link().point(back.otherEnd().holder(read.object()), owner.object());
        } else {
            Doors.link().point(holder, null);
        }
    }
}
