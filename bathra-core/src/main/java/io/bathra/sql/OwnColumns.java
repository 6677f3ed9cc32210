package io.bathra.sql;

import io.bathra.access.Accessor;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Keys of links are columns of the row itself: those of a link that is a part of the target's key too, and so on at any
 * depth.
 */
final class OwnColumns {
    private OwnColumns() {}

    /** The columns of a link that hold what a way from its target leads to; null where that lies in another row. */
    static @Nullable List<StoredColumn> behind(LinkAttribute link, List<Accessor> way) {
        ModelEntity<?> target = link.target();
        Attribute first = target.attribute(way.get(0));
        List<StoredColumn> there = null;
        if (way.size() > 1) {
            there = first instanceof LinkAttribute next ? behind(next, way.subList(1, way.size())) : null;
        } else if (first instanceof StoredAttribute stored) {
            there = stored.columns();
        }
        return there == null || !target.keyColumns().containsAll(there)
                ? null
                : there.stream()
                        .map(column -> link.columns().get(target.keyColumns().indexOf(column)))
                        .toList();
    }
}
