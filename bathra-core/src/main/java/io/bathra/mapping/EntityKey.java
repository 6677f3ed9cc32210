package io.bathra.mapping;

import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The key of an entity: how it lies in columns, and how rows and objects tell it. */
final class EntityKey {
    private final List<StoredAttribute> attributes;
    private final int slots;
    private final KeySource source;
    private final List<StoredColumn> columns;
    private final Shape shape;

    /**
     * @param attributes one or more, whose columns are known; the first of a row
     * @param slots how many values a row has
     */
    EntityKey(List<StoredAttribute> attributes, int slots, KeySource source) {
        this.attributes = attributes;
        this.slots = slots;
        this.source = source;
        this.columns = ModelEntity.columns(attributes);
        this.shape = attributes.size() == 1
                ? attributes.get(0).shape()
                : new Shape.Tuple(
                        attributes.stream().map(StoredAttribute::shape).toList());
    }

    List<StoredColumn> columns() {
        return columns;
    }

    Shape shape() {
        return shape;
    }

    /** The key in a row; null while a part is missing. */
    @Nullable
    Object in(@Nullable Object[] row) {
        int size = attributes.size();
        return size == 1 ? row[0] : Shape.Tuple.of(Arrays.copyOf(row, size)); // the key's attributes are the first
    }

    /** The key that the database draws, in the object that carries it; null while it has not been drawn. */
    @Nullable
    Object drawnIn(Object object) {
        Object value = attributes.get(0).get(object);
        boolean unset = isPrimitive() && value instanceof Number number && number.longValue() == 0;
        return unset ? null : value;
    }

    /** The key that an object itself tells, by what its links lead to if need be; null while it has none. */
    @Nullable
    Object of(Object object) {
        if (source.isDrawn()) {
            return drawnIn(object);
        }
        @Nullable Object[] row = new Object[slots];
        for (StoredAttribute attribute : attributes) {
            row[attribute.slot()] =
                    attribute instanceof ColumnAttribute ? attribute.get(object) : attribute.storedOf(object);
        }
        return in(row);
    }

    /** Takes a drawn key back from an object. */
    void clear(Object object) {
        StoredAttribute only = attributes.get(0);
        boolean narrow = only.columns().get(0).type().kind() == ColumnType.Kind.INTEGER;
        only.set(object, isPrimitive() ? narrow ? (Object) 0 : (Object) 0L : null);
    }

    private boolean isPrimitive() {
        return attributes.get(0) instanceof ColumnAttribute key && key.primitive();
    }
}
