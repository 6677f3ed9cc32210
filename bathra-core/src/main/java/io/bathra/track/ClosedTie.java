package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.access.Tie;
import io.bathra.error.UnreadLinkException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What a link that was read knows when its unit of work is closed: the key of its target, and nothing that would keep
 * the rest of the unit.
 */
record ClosedTie(Attribute link, Object target, Object key) implements Tie {
    /** Links that have been read tell their keys beyond the end of the unit. */
    static void keepKeys(Entry<?> entry) {
        List<LinkAttribute> links = entry.entity().links();
        for (int i = 0; i < links.size(); i++) { // no iterator: this is done for each object of each unit
            LinkAttribute link = links.get(i);
            keepKey(entry, link, link.holder(entry.object()), link.slot());
        }
        for (InverseAttribute link : entry.entity().inverses()) {
            keepKey(entry, link, link.holder(entry.object()), link.slot());
        }
    }

    private static void keepKey(Entry<?> entry, Attribute link, Object holder, int slot) {
        Object target = Doors.link().target(holder);
        Object key = target == null ? null : entry.keyOf(target);
        if (target != null && key != null) {
            Doors.link().tie(holder, new ClosedTie(link, target, key), slot);
        }
    }

    @Override
    public void read(int slot) {
        throw new UnreadLinkException(link.toString());
    }

    @Override
    public void touching(int slot, Object holder) {}

    @Override
    public void pointed(int slot, @Nullable Object before, @Nullable Object beforeKey, @Nullable Object after) {}

    @Override
    public void pointedToKey(int slot, @Nullable Object before, @Nullable Object beforeKey, Object newKey) {
        throw new UnsupportedOperationException(
                link + " belongs to a unit of work that is closed; change the entity in one that is open");
    }

    @Override
    public boolean keepsOrder(int slot) {
        return false;
    }

    @Override
    public void included(int slot, Object element) {}

    @Override
    public void excluded(int slot, Object element) {}

    @Override
    public @Nullable Object keyOf(Object object) {
        return object == target ? key : null;
    }

    @Override
    public boolean isOpen() {
        return false;
    }

    @Override
    public String describe(int slot) {
        return link.toString();
    }
}
