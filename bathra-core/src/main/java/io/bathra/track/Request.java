package io.bathra.track;

import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Something that the user has asked for and a flush has written: when that goes back, it is still to be done. */
sealed interface Request {
    /** Most entities have nothing that a flush fills in. */
    @Nullable
    Object[] NOTHING = {};

    /** The entry that it concerns; for parts and pairs that of their owner. */
    Entry<?> entry();

    /** What changes that are about to be settled were asked for. */
    static List<Request> of(Tracker tracker, Changes changes) {
        List<Request> asked = new ArrayList<>();
        List<Change.Insert> inserts = changes.inserts();
        for (int i = 0; i < inserts.size(); i++) {
            Change.Insert insert = inserts.get(i);
            Entry<?> entry = insert.entry();
            if (!entry.isHidden()) {
                List<ColumnAttribute> filledIn = entry.entity().filledIn();
                @Nullable Object[] before = filledIn.isEmpty() ? NOTHING : new Object[filledIn.size()];
                for (int j = 0; j < before.length; j++) {
                    before[j] = filledIn.get(j).get(entry.object());
                }
                asked.add(new Insert(entry, insert.values(), before));
            }
        }
        for (Change.Update update : changes.updates()) {
            Entry<?> entry = update.entry();
            if (!entry.isHidden() && entry.state() == Entry.State.STORED) {
                asked.add(new Update(entry, ofTheUser(entry, update.changed()), update.values()));
            } else if (entry.state() == Entry.State.LOOSE) {
                tracker.loose().find(entry).ifPresent(row -> asked.add(new Loose(row)));
            }
        }
        for (Change.Delete delete : changes.deletes()) {
            Entry<?> entry = delete.entry();
            if (entry.state() == Entry.State.LOOSE) {
                tracker.loose().find(entry).filter(row -> !row.isAlong()).ifPresent(row -> asked.add(new Loose(row)));
            } else if (entry.state() == Entry.State.REMOVED && !tracker.isAlong(entry)) {
                asked.add(new Removal(entry));
            } else if (!entry.isHidden() && entry.state() == Entry.State.STORED) {
                asked.add(orphaned(entry));
            }
        }
        for (Settlement settlement : changes.settlements()) {
            if (settlement instanceof Settlement.OfParts parts) {
                asked.add(new Parts(parts.owner(), parts.attribute(), parts.parts()));
            } else if (settlement instanceof Settlement.OfPairs pairs) {
                Pairs changed = PairsDifference.of(pairs.owner(), pairs.attribute());
                if (changed != null) {
                    asked.add(changed);
                }
            }
        }
        return asked;
    }

    /** Versions and stamps move by themselves. */
    private static BitSet ofTheUser(Entry<?> entry, BitSet changed) {
        BitSet slots = (BitSet) changed.clone();
        ColumnAttribute version = entry.entity().version();
        if (version != null) {
            slots.clear(version.slot());
        }
        entry.entity().updateStamps().forEach(stamp -> slots.clear(stamp.slot()));
        return slots;
    }

    /** What the user has changed in an object that goes, since it was taken out of a collection. */
    private static Update orphaned(Entry<?> entry) {
        BitSet slots = new BitSet();
        @Nullable Object[] values = new Object[entry.entity().stored().size()];
        for (StoredAttribute attribute : entry.suspects()) {
            if (entry.isChanged(attribute)) {
                slots.set(attribute.slot());
                values[attribute.slot()] = entry.keptNow(attribute);
            }
        }
        return new Update(entry, slots, values);
    }

    /**
     * A new object.
     *
     * @param values what it was stored with, by slot
     * @param before what the object had in the attributes that the flush has filled in, in their order
     */
    record Insert(
            Entry<?> entry,
            @Nullable Object[] values,
            @Nullable Object[] before) implements Request {}

    /**
     * Other values of an object.
     *
     * @param slots which of them
     * @param values by slot
     */
    record Update(Entry<?> entry, BitSet slots, @Nullable Object[] values) implements Request {}

    /** The removal of an object. */
    record Removal(Entry<?> entry) implements Request {}

    /** What is to become of a row that was not read. */
    record Loose(LooseRow row) implements Request {
        @Override
        public Entry<?> entry() {
            return row.entry();
        }
    }

    /** The parts that an owner is to have. */
    record Parts(Entry<?> owner, PartsAttribute attribute, List<@Nullable Object> parts) implements Request {
        @Override
        public Entry<?> entry() {
            return owner;
        }
    }

    /**
     * Elements that were put into links over a pivot, and taken out.
     *
     * @param order all elements in their order, where the pivot keeps one
     */
    record Pairs(
            Entry<?> owner,
            PivotAttribute pivot,
            List<Object> in,
            List<Object> out,
            @Nullable List<Object> order) implements Request {
        @Override
        public Entry<?> entry() {
            return owner;
        }
    }
}
