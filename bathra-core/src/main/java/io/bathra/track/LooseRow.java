package io.bathra.track;

import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Entry.State;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/**
 * What is to become of a row that was never read. Its new values stand in an object that nobody sees, so that the flush
 * writes it like any other; when the row is read after all, its entity takes them over.
 */
public final class LooseRow {
    private final Tracker tracker;
    private final Entry<?> entry;
    private final BitSet changed = new BitSet();
    private boolean removed;

    /** Whether it is removed for the sake of others alone. */
    private boolean along;

    LooseRow(Tracker tracker, ModelEntity<?> entity, Object key, int number) {
        this.tracker = tracker;
        this.entry = blank(tracker, entity, key, number);
    }

    private static <E> Entry<E> blank(Tracker tracker, ModelEntity<E> entity, Object key, int number) {
        Entry<E> entry = new Entry<>(tracker, entity, entity.instantiate(), number, State.LOOSE);
        @Nullable Object[] row = new Object[entity.stored().size()];
        int part = 0;
        for (StoredAttribute attribute : entity.keyAttributes()) {
            Object own = entity.keyAttributes().size() == 1 ? key : ((List<?>) key).get(part);
            row[attribute.slot()] = own;
            tracker.loader().write(entry, attribute, own);
            part++;
        }
        entry.stand(State.LOOSE, key, row);
        return entry;
    }

    Entry<?> entry() {
        return entry;
    }

    BitSet changed() {
        return changed;
    }

    boolean isRemoved() {
        return removed;
    }

    /** Whether it is removed for the sake of others alone, so that nobody has asked for it. */
    boolean isAlong() {
        return along;
    }

    /** Whether a flush has anything to do for it. */
    boolean isPending() {
        return removed || !changed.isEmpty();
    }

    /** Gives a column another value, in the form in which it is stored. */
    public void set(ColumnAttribute attribute, @Nullable Object stored) {
        tracker.loader().give(entry, attribute, stored);
        changed.set(attribute.slot());
    }

    /** Points a link to another row. */
    public void link(LinkAttribute link, @Nullable Object key) {
        tracker.loader().write(entry, link, key);
        changed.set(link.slot());
    }

    /** The row is written only while it has this version. */
    public void expectVersion(Object version) {
        entry.expect(Objects.requireNonNull(entry.entity().version()), version);
    }

    public void remove() {
        along = false;
        removed = true;
    }

    /** The row has been read, and goes along with another one. */
    public void removeAs(@Nullable Object[] row) {
        if (removed) {
            return;
        }
        @Nullable Object[] before = entry.row();
        entry.remember(row);
        removed = true;
        along = true;
        tracker.journal().add(() -> {
            entry.remember(before);
            removed = false;
            along = false;
        });
    }

    /** Hands everything over to the entity, now that the row has been read. */
    void pourInto(Entry<?> read) {
        pourInto(read, attribute -> true);
    }

    /** The same for some attributes; of the others something else is wanted since. */
    void pourInto(Entry<?> read, Predicate<StoredAttribute> wanted) {
        ColumnAttribute version = read.entity().version();
        Object expected = version == null ? null : entry.before(version);
        if (version != null && expected != null) {
            read.expect(version, expected);
        }
        changed.stream().mapToObj(read.entity().stored()::get).filter(wanted).forEach(attribute -> {
            if (attribute instanceof LinkAttribute link) {
                tracker.loader().pointTo(read, link, entry.now(link));
            } else {
                tracker.loader().give(read, attribute, entry.now(attribute));
            }
        });
        if (removed) {
            tracker.remove(read.object());
        }
    }

    /** Takes over what an earlier one of the same row wanted, as far as nothing else is wanted since. */
    void takeOver(LooseRow earlier) {
        BitSet missing = (BitSet) earlier.changed.clone();
        missing.andNot(changed);
        for (StoredAttribute attribute :
                missing.stream().mapToObj(entry.entity().stored()::get).toList()) {
            if (attribute instanceof LinkAttribute link) {
                link(link, earlier.entry.now(link));
            } else {
                set((ColumnAttribute) attribute, earlier.entry.now(attribute));
            }
        }
        removed |= earlier.removed;
    }
}
