package io.bathra.sql;

import io.bathra.access.Accessor;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Keys of links are columns of the row itself: those of a link that is a part of the target's key too, and so on at any
 * depth.
 */
final class OwnColumns {
    private OwnColumns() {}

    /**
     * The column of an entity's own table that holds what a way leads to.
     *
     * @return null where that lies in another row, or in several columns
     */
    static @Nullable StoredColumn at(ModelEntity<?> entity, List<Accessor> way) {
        Attribute first = entity.attribute(way.get(0));
        if (way.size() == 1) {
            return first instanceof ColumnAttribute column && column.columns().size() == 1
                    ? column.columns().get(0)
                    : null;
        }
        return first instanceof LinkAttribute link ? behind(link, way.subList(1, way.size())) : null;
    }

    /** The column of a link that holds what a way from its target leads to; null for none. */
    static @Nullable StoredColumn behind(LinkAttribute link, List<Accessor> way) {
        StoredColumn there = at(link.target(), way);
        int part = there == null ? -1 : link.target().keyColumns().indexOf(there);
        return part < 0 ? null : link.columns().get(part);
    }
}
