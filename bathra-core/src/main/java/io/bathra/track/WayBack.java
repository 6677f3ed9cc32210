package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.ToMany;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Takes a unit's memory back to a mark of its journal. What the database made of objects is taken back; what the user
 * has set and asked for is still to be done after a rollback, and taken back as well where a place was left.
 *
 * <p>Objects that were read since may show what never was: they are not tracked any more, until their rows have been
 * read again and are handed to {@link #found}.
 */
public final class WayBack {
    private final Tracker tracker;
    private final BothSides sides;
    private final Wishes wishes;
    private final boolean keeping;

    /** Those that were read since, each with the row that was known of it last. */
    private final Map<Entry<?>, @Nullable Object[]> doubtful = new LinkedHashMap<>();

    private final Map<RowKey, Entry<?>> doubtfulRows = new HashMap<>();
    private final List<Entry<?>> found = new ArrayList<>();

    private WayBack(Tracker tracker, BothSides sides, Wishes wishes, boolean keeping) {
        this.tracker = tracker;
        this.sides = sides;
        this.wishes = wishes;
        this.keeping = keeping;
    }

    /**
     * Goes back, and keeps what the user has set and asked for as pending.
     *
     * @param over whether the transaction is over, so that nobody goes back any further
     */
    static WayBack keepingWishes(Tracker tracker, BothSides sides, Journal.Mark mark, boolean over) {
        boolean known = tracker.journal().isOn(); // or nothing was written, and nothing is to be taken back
        WayBack way = new WayBack(tracker, sides, known ? Wishes.since(tracker, mark) : Wishes.none(tracker), true);
        if (known) {
            way.go(mark, over);
        }
        return way;
    }

    /** Goes back to a place: what the user has asked for since is taken back too. */
    static WayBack toPlace(Tracker tracker, BothSides sides, Journal.Mark mark) {
        WayBack way = new WayBack(tracker, sides, Wishes.none(tracker), false);
        way.go(mark, false);
        return way;
    }

    private void go(Journal.Mark mark, boolean over) {
        Journal journal = tracker.journal();
        List<Request> asked = List.copyOf(journal.askedSince(mark));
        Set<Entry<?>> released = new LinkedHashSet<>(journal.releasedSince(mark));
        for (Entry<?> entry : journal.readSince(mark)) {
            if (entry.key() != null && entry.snapshot() != null && (!keeping || !released.contains(entry))) {
                doubtful.put(entry, entry.snapshot());
            }
        }
        Set<Entry<?>> changed = journal.back(mark, owner -> !keeping || owner.state() != State.GONE);
        if (over) {
            journal.end();
        } else {
            journal.goOn();
        }
        doubtful.keySet().removeIf(entry -> tracker.entryOf(entry.object()) == entry); // it was known before
        doubtful.keySet().forEach(entry -> doubtfulRows.put(new RowKey(entry.entity(), key(entry)), entry));
        asked.forEach(this::takeKeyBack);
        if (keeping) {
            doubtful.keySet().forEach(this::hide);
            released.forEach(this::letGoAgain);
            askAgain(changed);
        } else {
            takeBack(changed);
        }
    }

    /** An object that is not stored after all has no key. */
    private void takeKeyBack(Request asked) {
        if (!(asked instanceof Request.Insert insert)) {
            return;
        }
        Entry<?> entry = insert.entry();
        ModelEntity<?> entity = entry.entity();
        if (entity.keySource().isDrawn()) {
            entity.clearKey(entry.object());
        }
        ColumnAttribute version = entity.version();
        if (version != null && !(version.primitive() && insert.version() == null)) {
            version.set(entry.object(), insert.version());
        }
    }

    // ---- a place

    private void takeBack(Set<Entry<?>> changed) {
        tracker.loose().clear();
        for (Entry<?> entry : changed) {
            if (isLive(entry) && entry.state() == State.STORED) {
                follow(entry);
            }
        }
        Resetter resetter = new Resetter(tracker);
        for (Entry<?> entry : List.copyOf(tracker.entries())) {
            if (entry.state() == State.STORED && Wishes.differs(entry::isDirty)) {
                resetter.reset(entry, Objects.requireNonNull(entry.snapshot()));
            }
        }
    }

    // ---- a rollback

    /** New objects, which nobody takes back, do not show what may never have been. */
    private void hide(Entry<?> entry) {
        if (tracker.entryOf(entry.object()) == null) { // or it was known before, and is let go with its own entry
            sides.hideEverywhere(entry);
            entry.forgetHiding();
        }
    }

    private void letGoAgain(Entry<?> entry) {
        if (isLive(entry) && entry.state() == State.NEW) {
            tracker.remove(entry.object());
            tracker.isStranger(entry.object());
        } else if (isLive(entry)) {
            tracker.release(entry);
        }
    }

    private void askAgain(Set<Entry<?>> changed) {
        List<Entry<?>> fresh = wishes.fresh();
        for (Entry<?> entry : fresh) {
            if (!isLive(entry)) {
                tracker.renew(entry, wishes.isAdded(entry));
            }
        }
        Set<Entry<?>> concerned = new LinkedHashSet<>(changed);
        concerned.addAll(wishes.valued());
        for (Entry<?> entry : concerned) {
            if (isLive(entry) && (entry.state() == State.STORED || entry.state() == State.NEW)) {
                follow(entry);
            }
        }
        fresh.forEach(this::showAgain);
        wishes.pairs().forEach(this::pairAgain);
        for (Entry<?> entry : wishes.removed()) { // last, so that nobody shows them
            if (isLive(entry)) {
                tracker.remove(entry.object());
            }
        }
        wishes.loose().forEach(tracker.loose()::putBack);
        wishes.neverStored().forEach(tracker.loose()::drop);
    }

    private boolean isLive(Entry<?> entry) {
        return tracker.entryOf(entry.object()) == entry;
    }

    /** The other sides show a new object where it has been all the time. */
    private void showAgain(Entry<?> entry) {
        if (!isLive(entry) || entry.state() != State.NEW) {
            return;
        }
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

    private void pairAgain(Request.Pairs asked) {
        Entry<?> owner = asked.owner();
        if (!isLive(owner) || owner.state() == State.REMOVED) {
            return;
        }
        Object holder = asked.pivot().holder(owner.object());
        for (Object element : asked.in()) {
            Entry<?> target = tracker.entryOf(element);
            if (target == null ? !tracker.isGone(element) : target.state() != State.REMOVED) {
                Doors.links().include(holder, element);
            }
        }
        asked.out().forEach(element -> Doors.links().exclude(holder, element));
        if (asked.order() != null && Doors.links().isRead(holder)) {
            List<Object> ordered = new ArrayList<>(asked.order());
            List<Object> present = Doors.links().present(holder);
            ordered.retainAll(present);
            present.removeAll(ordered);
            ordered.addAll(present);
            Doors.links().pending(holder, ordered, Doors.links().taken(holder));
        }
    }

    // ---- values

    /** An object has what its row holds, but where something else is asked for. */
    private void follow(Entry<?> entry) {
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
                : value == null || value instanceof Stranger ? null : neverStored(new RowKey(link.target(), value));
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

    /** The object whose row will never have been, or maybe was not; null where the key is that of a row. */
    private @Nullable Entry<?> neverStored(RowKey row) {
        Entry<?> fresh = wishes.storedAs(row);
        return fresh != null || tracker.entry(row.entity(), row.key()) != null ? fresh : doubtfulRows.get(row);
    }

    /** A collection holds the parts of its rows, or those that were asked for; what it holds already it keeps. */
    private void follow(Entry<?> owner, PartsAttribute attribute) {
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

    // ---- what was read since

    /** The entries whose rows have to be read again before they are tracked, by their entities. */
    public Map<ModelEntity<?>, List<Entry<?>>> doubtful() {
        Map<ModelEntity<?>, List<Entry<?>>> byEntity = new LinkedHashMap<>();
        doubtful.forEach((entry, row) -> {
            if (!isLive(entry) && tracker.entry(entry.entity(), key(entry)) == null) {
                byEntity.computeIfAbsent(entry.entity(), e -> new ArrayList<>()).add(entry);
            }
        });
        return byEntity;
    }

    /** The key of an entry that was read. */
    public Object key(Entry<?> entry) {
        return Objects.requireNonNull(entry.entity().keyIn(Objects.requireNonNull(doubtful.get(entry))));
    }

    /**
     * A row is there: its object is tracked again, and {@link #settle} gives it what the row holds.
     *
     * @return whether its parts are to be read
     */
    public boolean found(Entry<?> entry, @Nullable Object[] row) {
        Object key = Objects.requireNonNull(entry.entity().keyIn(row));
        if (tracker.entry(entry.entity(), key) != null) {
            return false; // another object stands for the row
        }
        Object[] before = Objects.requireNonNull(doubtful.get(entry));
        tracker.readmit(entry, key, Arrays.asList(before).contains(Entry.UNKNOWN) ? before : row);
        unread(entry);
        found.add(entry);
        return !entry.entity().parts().isEmpty();
    }

    /**
     * All that can be found is found: it has what its rows hold, or what is asked for, and both sides show it. Nothing
     * is asked for rows that are not there.
     */
    public void settle() {
        doubtfulRows.forEach((row, entry) -> {
            if (tracker.entry(row.entity(), row.key()) == null) {
                tracker.loose().drop(row);
            }
        });
        found.forEach(this::follow);
        found.forEach(sides::showInToManys);
        for (Entry<?> entry : found) {
            tracker.arrivals().arrived(entry);
            LooseRow pending = tracker.loose().take(entry);
            if (pending != null) {
                pending.pourInto(entry);
            }
            if (wishes.isRemoved(entry)) {
                tracker.remove(entry.object());
            }
        }
    }

    private static void unread(Entry<?> entry) {
        ModelEntity<?> entity = entry.entity();
        for (ToMany many : entity.allToManys()) {
            Doors.links().unread(many.holder(entry.object()));
        }
        for (InverseAttribute inverse : entity.inverses()) {
            Doors.link().unknown(inverse.holder(entry.object()));
        }
        for (StoredAttribute later : entity.laters()) {
            Doors.later().unread(later.later(entry.object()));
        }
        entity.pivots().forEach(pivot -> entry.belongings().putPairs(pivot, null));
    }

    /** The rows of the parts of an owner that was found, in their order. */
    public void foundParts(Entry<?> owner, PartsAttribute attribute, List<@Nullable Object[]> rows) {
        if (wishes.arePartsThere(owner, attribute) || wishes.parts(owner, attribute) != null) {
            tracker.loader().noteParts(owner, attribute, rows);
            follow(owner, attribute);
        } else {
            owner.belongings().putParts(attribute, null);
            tracker.loader().parts(owner, attribute, rows);
        }
    }
}
