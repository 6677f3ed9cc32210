package io.bathra.mapping;

import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Attributes that no two rows may have the same values of: the primary key, or a unique constraint.
 *
 * @param attributes one or more
 * @param primary whether it is the primary key
 * @param name the constraint's name, where one was given
 */
public record UniqueKey(
        List<StoredAttribute> attributes,
        boolean primary,
        @Nullable String name) {
    public UniqueKey {
        attributes = List.copyOf(attributes);
    }

    /** Whether the constraint may be checked at the end of a flush. A primary key never is: others refer to it. */
    public boolean isDeferrable() {
        return !primary && attributes.stream().anyMatch(StoredAttribute::isDeferrable);
    }

    /**
     * The value that has to be unique: null when a part is missing, since such rows do not count.
     *
     * @param valueOf gives the value of an attribute
     */
    public @Nullable Object value(Function<StoredAttribute, @Nullable Object> valueOf) {
        if (attributes.size() == 1) {
            return comparable(valueOf.apply(attributes.get(0)));
        }
        List<Object> values = new ArrayList<>(attributes.size());
        for (StoredAttribute attribute : attributes) {
            Object value = comparable(valueOf.apply(attribute));
            if (value == null) {
                return null;
            }
            values.add(value);
        }
        return values;
    }

    /** The value in a row, given as the values of its attributes by slot; null when a part is missing. */
    public @Nullable Object value(@Nullable Object[] row) {
        if (attributes.size() == 1) {
            return comparable(row[attributes.get(0).slot()]);
        }
        List<Object> values = new ArrayList<>(attributes.size());
        for (int i = 0; i < attributes.size(); i++) {
            Object value = comparable(row[attributes.get(i).slot()]);
            if (value == null) {
                return null;
            }
            values.add(value);
        }
        return values;
    }

    /** How the values lie in the columns of the attributes. */
    public Shape shape() {
        return attributes.size() == 1
                ? attributes.get(0).shape()
                : new Shape.Tuple(
                        attributes.stream().map(StoredAttribute::shape).toList());
    }

    /** The values in a row, none of which is missing, in this shape. */
    public Object in(@Nullable Object[] row) {
        List<Object> values = new ArrayList<>(attributes.size());
        attributes.forEach(attribute -> values.add(Objects.requireNonNull(row[attribute.slot()])));
        return values.size() == 1 ? values.get(0) : values;
    }

    /** Arrays are equal when their contents are. */
    private static @Nullable Object comparable(@Nullable Object value) {
        return value instanceof byte[] bytes ? ByteBuffer.wrap(bytes) : value;
    }
}
