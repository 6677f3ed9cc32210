package io.bathra.plan;

import io.bathra.mapping.Shape;
import io.bathra.track.Change;
import io.bathra.track.Entry;
import java.util.Comparator;
import java.util.Objects;

/**
 * Rows of one table in the order of their keys, new ones in the order in which they came: transactions that write
 * unsorted keys deadlock.
 */
final class KeyOrder implements Comparator<Change> {
    static final KeyOrder OF_ROWS = new KeyOrder();

    private KeyOrder() {}

    @Override
    @SuppressWarnings({"unchecked", "rawtypes"}) // the parts of keys of one table are of the same comparable types
    public int compare(Change a, Change b) {
        Entry<?> first = a.entry();
        Entry<?> second = b.entry();
        Object key = first.key();
        Object other = second.key();
        if (key == null || other == null) {
            return Integer.compare(first.number(), second.number());
        }
        Shape shape = first.entity().keyShape();
        int order = 0;
        for (int part = 0; order == 0 && part < shape.gates().size(); part++) {
            order = ((Comparable) Objects.requireNonNull(shape.part(key, part))).compareTo(shape.part(other, part));
        }
        return order;
    }
}
