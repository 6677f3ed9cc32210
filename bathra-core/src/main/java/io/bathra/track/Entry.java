package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.access.Tie;
import io.bathra.error.Conflict;
import io.bathra.error.UnreadLinkException;
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
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** An object as one unit of work knows it: which row it is, and what that row held when it was last in step. */
public final class Entry<E> implements Tie {
    /** Where the row stands. */
    public enum State {
        /** Not in the database. */
        NEW,
        /** In the database. */
        STORED,
        /** In the database until the next flush. */
        REMOVED,
        /** In the database, but never read: it stands for what is to be written there. */
        LOOSE,
        /** No longer the business of this unit. */
        GONE
    }

    /** Stands in the row where nobody has looked. */
    static final Object UNKNOWN = new Object();

    private final Tracker tracker;
    private final ModelEntity<E> entity;
    private final E object;
    private final int number;

    private State state;

    private @Nullable Object key;

    /** The row as last read or written, by slot; links as foreign keys. Null while the row is not in the database. */
    private @Nullable Object @Nullable [] snapshot;

    @Nullable
    Cohort cohort;

    /** What few entries have: most are of entities without parts and pairs, and there are many of them. */
    private @Nullable Belongings belongings;

    /**
     * Marks the entry as the row of a part or pivot.
     *
     * @param place what tells it from others of its owner, {@code .certificates[2]} say
     */
    void ownedBy(Entry<?> owner, Supplier<String> place) {
        belongings().own(owner, place);
    }

    private @Nullable Entry<?> owner() {
        return belongings == null ? null : belongings.owner();
    }

    /** Whether nobody but its owner knows the row. */
    boolean isHidden() {
        return owner() != null;
    }

    /** What the user knows: the object, or the one whose part or pair it is. */
    public Object domainObject() {
        Entry<?> owner = owner();
        return owner == null ? object : owner.object;
    }

    Belongings belongings() {
        if (belongings == null) {
            belongings = new Belongings(tracker.journal());
        }
        return belongings;
    }

    /** Nobody has to be told of it when it is taken back. */
    void forgetHiding() {
        if (!hiddenFrom().isEmpty()) {
            belongings().hideFrom(List.of());
        }
    }

    /** The rows of its parts as they are in the database, in their order; null when there are none. */
    @Nullable
    List<Entry<HiddenRow>> parts(PartsAttribute attribute) {
        return belongings == null ? null : belongings.parts().get(attribute);
    }

    /** Its pairs as they are in the database, each with its position; null when they were never read. */
    @Nullable
    Map<Object, @Nullable Long> pairs(PivotAttribute attribute) {
        return belongings == null ? null : belongings.pairs().get(attribute);
    }

    Entry(Tracker tracker, ModelEntity<E> entity, E object, int number, State state) {
        this.tracker = tracker;
        this.entity = entity;
        this.object = object;
        this.number = number;
        this.state = state;
    }

    public ModelEntity<E> entity() {
        return entity;
    }

    public E object() {
        return object;
    }

    public State state() {
        return state;
    }

    Tracker tracker() {
        return tracker;
    }

    /** Whether its row is written whatever version it has by now. */
    public boolean isBlind() {
        return state == State.LOOSE && entity.version() != null && before(entity.version()) == null;
    }

    /** The key, null while it has not been drawn. */
    public @Nullable Object key() {
        return key;
    }

    /** Its place in the order in which objects came to the unit. */
    public int number() {
        return number;
    }

    /** Those that were read together with it. */
    public @Nullable Cohort cohort() {
        return cohort;
    }

    /** The row as last read or written, by slot; null while it is not in the database. */
    public @Nullable Object @Nullable [] snapshot() {
        return snapshot;
    }

    // ---- changing: the journal is told first

    /** What an entry was. */
    record Memory<E>(
            Entry<E> entry,
            State state,
            @Nullable Object key,
            @Nullable Object @Nullable [] snapshot) implements Runnable {
        @Override
        public void run() {
            entry.state = state;
            entry.key = key;
            entry.snapshot = snapshot;
        }
    }

    /** What makes it again what it is now. */
    Memory<E> memory() {
        return new Memory<>(this, state, key, snapshot);
    }

    void become(State newState) {
        tracker.journal().entry(this);
        state = newState;
    }

    /** Takes another row as the one that it was last in step with, unless nothing will ever be compared with it. */
    void remember(@Nullable Object @Nullable [] row) {
        tracker.journal().entry(this);
        snapshot = tracker.isForgetful() ? null : row;
    }

    /** It is the row of a key. */
    void stand(State newState, @Nullable Object newKey, @Nullable Object @Nullable [] row) {
        tracker.journal().entry(this);
        state = newState;
        key = newKey;
        snapshot = tracker.isForgetful() ? null : row;
    }

    /** The row has another value where nobody is to look. */
    void expect(StoredAttribute attribute, @Nullable Object value) {
        @Nullable Object[] row = row().clone();
        row[attribute.slot()] = value;
        remember(row);
    }

    /** Where the elements of others it was taken out of, since it is removed. */
    List<HiddenFrom> hiddenFrom() {
        return belongings == null ? List.of() : belongings.hiddenFrom();
    }

    /** The row of an entry that has one. */
    @Nullable
    Object[] row() {
        return Objects.requireNonNull(snapshot);
    }

    /** The value of a slot when the row was last in step. */
    public @Nullable Object before(StoredAttribute attribute) {
        if (snapshot == null && state == State.STORED) {
            return keptNow(attribute); // nothing is remembered where nothing will be written
        }
        Object value = snapshot == null ? null : snapshot[attribute.slot()];
        return value == UNKNOWN ? null : value;
    }

    /** Whether the row was never read, so that all of it counts as changed. */
    public boolean isUnread() {
        return snapshot != null && Arrays.asList(snapshot).contains(UNKNOWN);
    }

    /** The value of a slot as it is now: a plain value, a foreign key, or the entry that a link leads to. */
    public @Nullable Object now(StoredAttribute attribute) {
        if (!(attribute instanceof LinkAttribute link)) {
            return attribute.get(object);
        }
        Object holder = link.holder(object);
        Object target = Doors.link().target(holder);
        return target == null ? Doors.link().unreadKey(holder) : tracker.targetValue(target);
    }

    /** The value of a slot as the database will keep it. */
    @Nullable
    Object keptNow(StoredAttribute attribute) {
        return attribute.kept(now(attribute));
    }

    /** Whether a slot that the user may change has another value than the row. */
    boolean isChanged(StoredAttribute attribute) {
        if (attribute.isLater()) {
            return Doors.later().isChanged(attribute.later(object));
        }
        if (snapshot != null && snapshot[attribute.slot()] == UNKNOWN) {
            return true;
        }
        return !same(attribute, before(attribute), now(attribute));
    }

    /** The attributes that may have changed: all at once, it is quickly seen of most that they have not. */
    List<StoredAttribute> suspects() {
        return snapshot != null && entity.isAsInRow(object, snapshot) ? entity.watchedHolders() : entity.watched();
    }

    /** The attributes whose values in the row are others than those that were read. */
    public List<Conflict> conflicts(@Nullable Object[] theirs) {
        List<Conflict> conflicts = new ArrayList<>();
        if (state == State.LOOSE) {
            return conflicts;
        }
        for (StoredAttribute attribute : entity.withRow()) {
            Object read = before(attribute);
            Object there = theirs[attribute.slot()];
            if (attribute != entity.version() && !same(attribute, read, there)) {
                conflicts.add(new Conflict(
                        toString(),
                        attribute.name(),
                        attribute.shown(read),
                        attribute.shown(keptNow(attribute)),
                        attribute.shown(there)));
            }
        }
        return conflicts;
    }

    static boolean same(StoredAttribute attribute, @Nullable Object kept, @Nullable Object value) {
        return attribute.same(kept, value);
    }

    /** Whether the object differs from its row. */
    public boolean isDirty() {
        if (tracker.isForgetful()) {
            return false;
        }
        for (StoredAttribute attribute : suspects()) {
            if (isChanged(attribute)) {
                return true;
            }
        }
        return PartsDifference.isIn(this) || PairsDifference.isIn(this);
    }

    void tieHolders() {
        if (!entity.hasHolders()) {
            return;
        }
        for (LinkAttribute link : entity.links()) {
            Doors.link().tie(link.holder(object), this, link.slot());
        }
        for (InverseAttribute link : entity.inverses()) {
            Doors.link().tie(link.holder(object), this, link.slot());
        }
        for (LinksAttribute many : entity.toManys()) {
            Doors.links().tie(many.holder(object), this, many.slot());
        }
        for (PivotAttribute pivot : entity.pivots()) {
            Doors.links().tie(pivot.holder(object), this, pivot.slot());
        }
        for (StoredAttribute later : entity.laters()) {
            Doors.later().tie(later.later(object), this, later.slot());
        }
    }

    private ToMany many(int slot) {
        return (ToMany) entity.attributeAt(slot);
    }

    @Override
    public void read(int slot) {
        if (state == State.GONE && !tracker.isClosed()) {
            throw new UnreadLinkException(describe(slot));
        }
        tracker.holderEvents().read(this, entity.attributeAt(slot));
    }

    @Override
    public void touching(int slot, Object holder) {
        tracker.journal().holder(this, holder);
    }

    @Override
    public void pointed(int slot, @Nullable Object before, @Nullable Object beforeKey, @Nullable Object after) {
        tracker.holderEvents().pointed(this, entity.attributeAt(slot), before, beforeKey, after);
    }

    @Override
    public void pointedToKey(int slot, @Nullable Object before, @Nullable Object beforeKey, Object target) {
        if (!(entity.attributeAt(slot) instanceof LinkAttribute link)) {
            throw new UnsupportedOperationException(
                    describe(slot) + " is the side of a one-to-one association without the foreign key; point the other"
                            + " side here instead");
        }
        tracker.holderEvents().pointedToKey(this, link, before, beforeKey, target);
    }

    @Override
    public boolean keepsOrder(int slot) {
        return entity.attributeAt(slot) instanceof PivotAttribute pivot && pivot.order() != null;
    }

    @Override
    public void included(int slot, Object element) {
        tracker.holderEvents().included(this, many(slot), element);
    }

    @Override
    public void excluded(int slot, Object element) {
        tracker.holderEvents().excluded(this, many(slot), element);
    }

    @Override
    public @Nullable Object keyOf(Object target) {
        return tracker.keyOf(target);
    }

    @Override
    public boolean isOpen() {
        return !tracker.isClosed();
    }

    @Override
    public String describe(int slot) {
        return this + "." + entity.attributeAt(slot).name();
    }

    /**
     * The row in words: {@code Vessel 7}, or {@code Vessel (new #3)} while it has no key. Of parts and pivots the owner
     * is named, since nobody knows their keys.
     */
    @Override
    public String toString() {
        if (belongings != null && belongings.owner() != null) {
            return belongings.owner() + belongings.place();
        }
        return key == null ? entity.name() + " (new #" + number + ")" : entity.describe(key);
    }
}
