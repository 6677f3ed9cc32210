package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.ToMany;
import io.bathra.track.Entry.State;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** Finds what has changed: compares each tracked object with its row. */
public final class Collector {
    private final Tracker tracker;
    private final Clock clock;

    /**
     * @param clock gives the time for stamps
     */
    public Collector(Tracker tracker, Clock clock) {
        this.tracker = tracker;
        this.clock = clock;
    }

    /** Everything that a flush would have to write. */
    public Changes collect() {
        Changes.Draft draft = new Changes.Draft(tracker.numbers());
        List<Entry<?>> owners = List.of(); // those with pivots
        List<Entry<?>> leaving = List.of();
        Predicate<Entry<?>> reached = reached();
        TakenAlong along = TakenAlong.with(tracker, removed());
        draft.along(along);
        List<Entry<?>> entries = tracker.entries();
        for (int i = 0; i < entries.size(); i++) { // no iterator: this is done for each object of each flush
            Entry<?> entry = entries.get(i);
            switch (entry.state()) {
                case NEW -> {
                    if (reached.test(entry)) {
                        draft.inserts().add(new Change.Insert(entry, insertValues(entry, draft)));
                        PartsDifference.add(entry, draft);
                        owners = entry.entity().pivots().isEmpty() ? owners : with(owners, entry);
                    }
                }
                case STORED -> {
                    if (along.takes(entry)) {
                        continue; // whatever is changed in it goes along
                    }
                    if (isOrphan(entry) || along.isMoved(entry)) {
                        draft.deletes().add(new Change.Delete(entry));
                        leaving = with(leaving, entry);
                        continue;
                    }
                    BitSet changed = changed(entry);
                    boolean parts = PartsDifference.add(entry, draft);
                    if (changed == null && parts && isManaged(entry.entity())) {
                        changed = new BitSet(); // the parts are a part of the entity, so its version and stamp move
                    }
                    if (changed != null) {
                        draft.updates()
                                .add(new Change.Update(
                                        entry, changed, emptied(entry, along, updateValues(entry, changed, draft))));
                    }
                    owners = entry.entity().pivots().isEmpty() ? owners : with(owners, entry);
                }
                case REMOVED -> {
                    draft.deletes().add(new Change.Delete(entry));
                    leaving = with(leaving, entry);
                }
                case LOOSE, GONE -> {}
            }
        }
        if (!tracker.loose().areNone()) {
            addLoose(draft);
        }
        if (!owners.isEmpty() || !leaving.isEmpty()) {
            PairsDifference pairs = new PairsDifference(draft);
            owners.forEach(owner -> pairs.add(owner, true));
            owners.forEach(owner -> pairs.add(owner, false));
            leaving.forEach(pairs::addTaken);
        }
        return draft.done();
    }

    private static List<Entry<?>> with(List<Entry<?>> some, Entry<?> more) {
        List<Entry<?>> all = some.isEmpty() ? new ArrayList<>() : some;
        all.add(more);
        return all;
    }

    /** Every row that is to be removed for itself, not for the sake of another. */
    public Set<Entry<?>> removed() {
        Set<Entry<?>> removed = Set.of(); // as in most units
        List<Entry<?>> entries = tracker.entries();
        for (int i = 0; i < entries.size(); i++) {
            Entry<?> entry = entries.get(i);
            if (entry.state() == State.REMOVED || isOrphan(entry)) {
                removed = removed.isEmpty() ? new LinkedHashSet<>() : removed;
                removed.add(entry);
            }
        }
        for (LooseRow row : tracker.loose().all()) {
            if (row.isRemoved()) {
                removed = removed.isEmpty() ? new LinkedHashSet<>() : removed;
                removed.add(row.entry());
            }
        }
        return removed;
    }

    /** Tracked rows that go along with removed ones. */
    public Set<Entry<?>> taken() {
        TakenAlong along = TakenAlong.with(tracker, removed());
        Set<Entry<?>> taken = new LinkedHashSet<>(along.taken().keySet());
        taken.addAll(along.moved());
        return taken;
    }

    /** Whether an entity was taken out of a collection that removes its orphans, and put into no other. */
    public static boolean isOrphan(Entry<?> entry) {
        if (entry.state() != State.STORED) {
            return false;
        }
        List<LinkAttribute> links = entry.entity().linksOfOrphans();
        for (int i = 0; i < links.size(); i++) {
            LinkAttribute link = links.get(i);
            if (entry.before(link) != null && entry.now(link) == null) {
                return true;
            }
        }
        return false;
    }

    /** The keys of rows whose link has been pointed elsewhere, or nowhere, and is still to be written. */
    public List<Object> moved(LinkAttribute link) {
        List<Object> moved = new ArrayList<>();
        for (Entry<?> entry : tracker.entries()) {
            if (entry.entity() == link.entity() && entry.state() == State.STORED && entry.isChanged(link)) {
                moved.add(Objects.requireNonNull(entry.key()));
            }
        }
        for (LooseRow row : tracker.loose().all()) {
            if (row.entry().entity() == link.entity() && row.changed().get(link.slot())) {
                moved.add(Objects.requireNonNull(row.entry().key()));
            }
        }
        return moved;
    }

    /** A link to a row that is removed at the same time is not written first: it is empty from now on. */
    private static @Nullable Object[] emptied(Entry<?> entry, TakenAlong along, @Nullable Object[] values) {
        if (along == TakenAlong.NOTHING) {
            return values;
        }
        for (LinkAttribute link : entry.entity().links()) {
            if (along.empties(entry, link)) {
                values[link.slot()] = null;
            }
        }
        return values;
    }

    private void addLoose(Changes.Draft draft) {
        for (LooseRow row : tracker.loose().all()) {
            Entry<?> entry = row.entry();
            if (row.isRemoved()) {
                draft.deletes().add(new Change.Delete(entry));
            } else if (row.isPending()) {
                BitSet changed = (BitSet) row.changed().clone();
                draft.updates().add(new Change.Update(entry, changed, updateValues(entry, changed, draft)));
            }
        }
    }

    /** Whether anything would be written. */
    public boolean hasChanges() {
        return hasChanges(entity -> true, entity -> true);
    }

    /**
     * Whether rows of some entities would be written, or might go along with others that are removed.
     *
     * @param among whether an entity is one of them
     * @param reached whether the removal of rows of an entity reaches one of them
     */
    public boolean hasChanges(Predicate<ModelEntity<?>> among, Predicate<ModelEntity<?>> reached) {
        Map<ModelEntity<?>, Boolean> known = null; // nothing is removed, most often
        List<Entry<?>> entries = tracker.entries();
        for (int i = 0; i < entries.size(); i++) { // no iterator: this is done for each object before each query
            Entry<?> entry = entries.get(i);
            ModelEntity<?> entity = entry.entity();
            boolean concerned = among.test(entity);
            if (!concerned && mayGo(entry)) {
                known = known == null ? new HashMap<>() : known;
                concerned = known.computeIfAbsent(entity, reached::test);
            }
            if (concerned && (entry.state() != State.STORED || entry.isDirty())) {
                return true;
            }
        }
        for (LooseRow row : tracker.loose().all()) {
            ModelEntity<?> entity = row.entry().entity();
            if (row.isPending() && (among.test(entity) || (row.isRemoved() && reached.test(entity)))) {
                return true;
            }
        }
        return false;
    }

    /** Whether its row goes by the next flush: it is removed, or may be an orphan. */
    private static boolean mayGo(Entry<?> entry) {
        return entry.state() == State.REMOVED
                || (entry.state() == State.STORED
                        && !entry.entity().linksOfOrphans().isEmpty());
    }

    private static boolean isManaged(ModelEntity<?> entity) {
        return entity.version() != null || !entity.updateStamps().isEmpty();
    }

    private static @Nullable BitSet changed(Entry<?> entry) {
        BitSet changed = null;
        List<StoredAttribute> suspects = entry.suspects();
        for (int i = 0; i < suspects.size(); i++) { // no iterator: this is done for each entity of each flush
            StoredAttribute attribute = suspects.get(i);
            if (entry.isChanged(attribute)) {
                changed = changed == null ? new BitSet() : changed;
                changed.set(attribute.slot());
            }
        }
        return changed;
    }

    private @Nullable Object[] insertValues(Entry<?> entry, Changes.Draft draft) {
        @Nullable Object[] values = values(entry);
        ModelEntity<?> entity = entry.entity();
        if (entity.keySource().isDrawn()) {
            values[0] = entity.drawnKeyOf(entry.object());
        }
        if (entity.version() != null && values[entity.version().slot()] == null) {
            values[entity.version().slot()] = entity.version().number(0);
        }
        setStamps(entity.insertStamps(), values, draft);
        setStamps(entity.updateStamps(), values, draft);
        return values;
    }

    /** What the unit sets by itself counts as changed too. */
    private @Nullable Object[] updateValues(Entry<?> entry, BitSet changed, Changes.Draft draft) {
        @Nullable Object[] values = values(entry);
        ColumnAttribute version = entry.entity().version();
        if (version != null && !entry.isBlind()) {
            long before = ((Number) Objects.requireNonNull(entry.before(version))).longValue();
            values[version.slot()] = version.number(before + 1);
            changed.set(version.slot());
        }
        List<ColumnAttribute> stamps = entry.entity().updateStamps();
        setStamps(stamps, values, draft);
        for (int i = 0; i < stamps.size(); i++) {
            changed.set(stamps.get(i).slot());
        }
        return values;
    }

    private void setStamps(List<ColumnAttribute> stamps, @Nullable Object[] values, Changes.Draft draft) {
        for (int i = 0; i < stamps.size(); i++) {
            values[stamps.get(i).slot()] = time(stamps.get(i), draft.now(clock));
        }
    }

    /** The value of a stamp that is set now. */
    public Object stampOfNow(ColumnAttribute stamp) {
        return time(stamp, clock.instant());
    }

    private Object time(ColumnAttribute attribute, Instant now) {
        return attribute.timeAt(now, clock.getZone());
    }

    private static @Nullable Object[] values(Entry<?> entry) {
        List<StoredAttribute> stored = entry.entity().stored();
        @Nullable Object[] values = new Object[stored.size()];
        for (int slot = 0; slot < values.length; slot++) {
            values[slot] = entry.keptNow(stored.get(slot));
        }
        return values;
    }

    /**
     * New objects are stored when the user has added them, or when one that is stored reaches them. One that was
     * reached for a while and is not any more stays out.
     */
    private Predicate<Entry<?>> reached() {
        if (areAllAdded()) {
            return entry -> true;
        }
        BitSet reached = new BitSet(tracker.numbers() + 1);
        Deque<Entry<?>> open = new ArrayDeque<>();
        for (Entry<?> entry : tracker.entries()) {
            if (entry.state() == State.STORED || tracker.isAdded(entry)) {
                open.add(entry);
                reached.set(entry.number());
            }
        }
        while (!open.isEmpty()) {
            neighbours(open.poll(), object -> {
                Entry<?> neighbour = tracker.entryOf(object);
                if (neighbour != null && neighbour.state() == State.NEW && !reached.get(neighbour.number())) {
                    reached.set(neighbour.number());
                    open.add(neighbour);
                }
            });
        }
        return entry -> reached.get(entry.number());
    }

    /** Whether the user has added each new object himself. */
    private boolean areAllAdded() {
        List<Entry<?>> entries = tracker.entries();
        for (int i = 0; i < entries.size(); i++) {
            if (entries.get(i).state() == State.NEW && !tracker.isAdded(entries.get(i))) {
                return false;
            }
        }
        return true;
    }

    private void neighbours(Entry<?> entry, Consumer<Object> visitor) {
        for (LinkAttribute link : entry.entity().links()) {
            Object target = link.cascades() ? Doors.link().target(link.holder(entry.object())) : null;
            if (target != null) {
                visitor.accept(target);
            }
        }
        for (InverseAttribute link : entry.entity().inverses()) {
            Object target = Doors.link().target(link.holder(entry.object()));
            if (target != null) {
                visitor.accept(target);
            }
        }
        for (ToMany many : entry.entity().allToManys()) {
            if (many.cascades()) {
                Doors.links().present(many.holder(entry.object())).forEach(visitor);
            }
        }
        for (PartsAttribute parts : entry.entity().parts()) {
            tracker.targetsInParts(entry, parts).forEach(visitor);
        }
    }
}
