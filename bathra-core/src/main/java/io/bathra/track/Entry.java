package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.access.Tie;
import io.bathra.model.DatabaseMade;
import io.bathra.model.LinkAttribute;
import io.bathra.model.LinksAttribute;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredAttribute;
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
        /** No longer the business of this unit. */
        GONE
    }

    private final Tracker tracker;
    private final ModelEntity<E> entity;
    private final E object;
    private final int number;

    State state;
    /** Added by the user, not merely reached from another object. */
    boolean added;

    @Nullable
    Object key;
    /** The row as last read or written, by slot; links as foreign keys. Null while the row is not in the database. */
    @Nullable
    Object @Nullable [] snapshot;

    @Nullable
    Cohort cohort;

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

    /** The value of a slot when the row was last in step. */
    public @Nullable Object before(StoredAttribute attribute) {
        return snapshot == null ? null : snapshot[attribute.slot()];
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

    /** Whether a slot has another value than the row. Versions and computed values are never the user's to change. */
    boolean isChanged(StoredAttribute attribute) {
        if (attribute == entity.version() || attribute.databaseMade() instanceof DatabaseMade.Computed) {
            return false;
        }
        Object before = before(attribute);
        Object now = now(attribute);
        return attribute instanceof LinkAttribute
                ? before == null ? now != null : !before.equals(now)
                : !attribute.shape().same(before, now);
    }

    /** Whether the object differs from its row. */
    public boolean isDirty() {
        for (StoredAttribute attribute : entity.stored()) {
            if (isChanged(attribute)) {
                return true;
            }
        }
        return false;
    }

    void tieHolders() {
        for (LinkAttribute link : entity.links()) {
            Doors.link().tie(link.holder(object), this, link.slot());
        }
        for (LinksAttribute many : entity.toManys()) {
            Doors.links().tie(many.holder(object), this, many.slot());
        }
    }

    private LinkAttribute link(int slot) {
        return (LinkAttribute) entity.stored().get(slot);
    }

    private LinksAttribute links(int slot) {
        return entity.toManys().get(slot - entity.stored().size());
    }

    private boolean isLink(int slot) {
        return slot < entity.stored().size();
    }

    @Override
    public void read(int slot) {
        if (isLink(slot)) {
            tracker.read(this, link(slot));
        } else {
            tracker.read(this, links(slot));
        }
    }

    @Override
    public void pointed(int slot, @Nullable Object before, @Nullable Object beforeKey, @Nullable Object after) {
        tracker.pointed(this, link(slot), before, beforeKey, after);
    }

    @Override
    public void included(int slot, Object element) {
        tracker.included(this, links(slot), element);
    }

    @Override
    public void excluded(int slot, Object element) {
        tracker.excluded(this, links(slot), element);
    }

    @Override
    public @Nullable Object keyOf(Object target) {
        Entry<?> entry = tracker.entryOf(target);
        return entry == null ? null : entry.key;
    }

    @Override
    public String describe(int slot) {
        return this + "." + (isLink(slot) ? link(slot).name() : links(slot).name());
    }

    /** The row in words: {@code Vessel 7}, or {@code Vessel (new #3)} while it has no key. */
    @Override
    public String toString() {
        return key == null ? entity.name() + " (new #" + number + ")" : entity.describe(key);
    }
}
