package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.ToMany;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.IdentityHashMap;
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
    private final RowFollower rows;
    private final SidesAgain again;
    private final boolean keeping;

    /** The entries that the user has let go since, by their objects. */
    private final Map<Object, Entry<?>> released = new IdentityHashMap<>();

    /** Those that were read since, each with the row that was known of it last. */
    private final Map<Entry<?>, @Nullable Object[]> doubtful = new LinkedHashMap<>();

    /** Those that were known before, and were read again since: somebody else may have changed their rows before. */
    private final Set<Entry<?>> readAgain = new LinkedHashSet<>();

    private final Map<RowKey, Entry<?>> doubtfulRows = new HashMap<>();
    private final Set<Entry<?>> found = new LinkedHashSet<>();

    private WayBack(Tracker tracker, BothSides sides, Wishes wishes, boolean keeping) {
        this.tracker = tracker;
        this.sides = sides;
        this.wishes = wishes;
        this.keeping = keeping;
        this.again = new SidesAgain(tracker, sides, wishes, released, doubtfulRows);
        this.rows = new RowFollower(tracker, sides, wishes, this::neverStored);
    }

    /**
     * Goes back, and keeps what the user has set and asked for as pending.
     *
     * @param over whether the transaction is over, so that nobody goes back any further
     */
    static WayBack keepingWishes(Tracker tracker, BothSides sides, Journal.Mark mark, boolean over) {
        WayBack way = new WayBack(tracker, sides, Wishes.since(tracker, mark), true);
        way.go(mark, over);
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
        Set<Entry<?>> letGo = new LinkedHashSet<>(journal.releasedSince(mark));
        letGo.forEach(entry -> released.put(entry.object(), entry));
        for (Entry<?> entry : journal.readSince(mark)) {
            if (entry.key() != null && entry.snapshot() != null && (!keeping || !letGo.contains(entry))) {
                doubtful.put(entry, entry.snapshot());
            }
        }
        Set<Entry<?>> changed = journal.back(mark, owner -> !keeping || owner.state() != State.GONE);
        if (over) {
            journal.end();
        } else {
            journal.goOn();
        }
        doubtful.keySet().stream().filter(this::isLive).forEach(readAgain::add);
        doubtful.keySet().removeAll(readAgain);
        doubtful.keySet().forEach(entry -> doubtfulRows.put(new RowKey(entry.entity(), key(entry)), entry));
        asked.forEach(this::takeKeyBack);
        if (keeping) {
            doubtful.keySet().forEach(this::hide);
            letGo.forEach(this::letGoAgain);
            askAgain(changed);
        } else {
            takeBack(changed);
        }
    }

    /** An object that is not stored after all has no key, nor what the flush has filled in. */
    private void takeKeyBack(Request asked) {
        if (!(asked instanceof Request.Insert insert)) {
            return;
        }
        Entry<?> entry = insert.entry();
        ModelEntity<?> entity = entry.entity();
        if (entity.keySource().isDrawn()) {
            entity.clearKey(entry.object());
        }
        List<ColumnAttribute> filledIn = entity.filledIn();
        for (int i = 0; i < filledIn.size(); i++) {
            filledIn.get(i).set(entry.object(), insert.before()[i]);
        }
    }

    // ---- a place

    private void takeBack(Set<Entry<?>> changed) {
        tracker.loose().clear();
        for (Entry<?> entry : changed) {
            if (isLive(entry) && entry.state() == State.STORED) {
                rows.follow(entry);
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
                rows.follow(entry);
            }
        }
        fresh.forEach(again::showAgain);
        wishes.pairs().forEach(again::pairAgain);
        for (Entry<?> entry : wishes.removed()) { // last, so that nobody shows them
            if (isLive(entry)) {
                tracker.remove(entry.object());
            }
        }
        looseAgain(wishes.loose());
        wishes.neverStored().forEach(tracker.loose()::drop);
    }

    private void looseAgain(List<LooseRow> rows) {
        for (int i = rows.size() - 1; i >= 0; i--) { // the later ones first, over which nothing earlier goes
            tracker.loose().putBack(rows.get(i));
        }
        for (LooseRow row : rows) {
            Entry<?> known = tracker.entry(
                    row.entry().entity(), Objects.requireNonNull(row.entry().key()));
            if (known != null) {
                pour(known);
            }
        }
    }

    /** What is asked for the row of an object goes into it, unless something else is asked of the object since. */
    private void pour(Entry<?> entry) {
        LooseRow row = tracker.loose().take(entry);
        Wishes.Values asked = wishes.of(entry);
        if (row != null) {
            row.pourInto(entry, attribute -> asked == null || !asked.has(attribute));
        }
    }

    private boolean isLive(Entry<?> entry) {
        return tracker.entryOf(entry.object()) == entry;
    }

    /** The object whose row will never have been, or maybe was not; null where the key is that of a row. */
    private @Nullable Entry<?> neverStored(RowKey row) {
        Entry<?> fresh = wishes.storedAs(row);
        return fresh != null || tracker.entry(row.entity(), row.key()) != null ? fresh : doubtfulRows.get(row);
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
        for (Entry<?> entry : readAgain) {
            if (isReadAgain(entry)) {
                byEntity.computeIfAbsent(entry.entity(), e -> new ArrayList<>()).add(entry);
            }
        }
        return byEntity;
    }

    private boolean isReadAgain(Entry<?> entry) {
        return readAgain.contains(entry) && isLive(entry) && entry.state() == State.STORED && entry.snapshot() != null;
    }

    /** The key of an entry that was read. */
    public Object key(Entry<?> entry) {
        return readAgain.contains(entry)
                ? Objects.requireNonNull(entry.key())
                : Objects.requireNonNull(entry.entity().keyIn(Objects.requireNonNull(doubtful.get(entry))));
    }

    /**
     * A row is there: its object is tracked again, and {@link #settle} gives it what the row holds.
     *
     * @return whether its parts are to be read
     */
    public boolean found(Entry<?> entry, @Nullable Object[] row) {
        Object key = Objects.requireNonNull(entry.entity().keyIn(row));
        if (isReadAgain(entry)) {
            entry.stand(State.STORED, key, row);
            unreadLaters(entry);
            found.add(entry);
            return !entry.entity().parts().isEmpty();
        }
        if (tracker.entry(entry.entity(), key) != null) {
            return false; // another object stands for the row
        }
        @Nullable Object[] before = Objects.requireNonNull(doubtful.get(entry));
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
        found.forEach(rows::follow);
        wishes.pairs().stream().filter(asked -> found.contains(asked.owner())).forEach(again::pairAgain);
        found.forEach(sides::showInToManys);
        wishes.fresh().forEach(again::showAgain);
        wishes.valued().forEach(again::showAskedLinks);
        for (Entry<?> entry : found) {
            tracker.arrivals().arrived(entry);
            pour(entry);
            if (wishes.isRemoved(entry)) {
                tracker.remove(entry.object());
            }
        }
    }

    /** Not all could be looked at: what was found so far may lack its parts, so it is not tracked either. */
    public void giveUp() {
        for (Entry<?> entry : found) {
            if (readAgain.contains(entry)) {
                rows.follow(entry); // it was known before, and has its row
            } else {
                tracker.release(entry);
            }
        }
    }

    private void unreadLaters(Entry<?> entry) {
        Wishes.Values asked = wishes.of(entry);
        for (StoredAttribute later : entry.entity().laters()) {
            if (asked == null || !asked.has(later)) {
                Doors.later().unread(later.later(entry.object()));
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
    public void foundParts(Entry<?> owner, PartsAttribute attribute, List<@Nullable Object[]> now) {
        if (wishes.arePartsThere(owner, attribute)) {
            tracker.loader().noteParts(owner, attribute, now);
        } else if (wishes.parts(owner, attribute) != null) {
            tracker.loader().noteParts(owner, attribute, now);
            rows.follow(owner, attribute);
        } else {
            owner.belongings().putParts(attribute, null);
            tracker.loader().parts(owner, attribute, now);
        }
    }
}
