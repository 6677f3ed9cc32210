package io.bathra.model;

import io.bathra.access.Doors;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** The way to what an attribute holds in an object. */
interface FieldAccess {
    @Nullable
    Object get(Object object);

    void set(Object object, @Nullable Object value);

    /** Whether the field holds what is the same for a column as a kept value. */
    default boolean same(Object object, @Nullable Object kept, ColumnType type) {
        return type.same(kept, get(object));
    }

    /** The way to the value inside the {@link io.bathra.link.Later} that a field holds. */
    static FieldAccess inside(FieldAccess holder) {
        return new FieldAccess() {
            @Override
            public @Nullable Object get(Object object) {
                return Doors.later().value(Objects.requireNonNull(holder.get(object)));
            }

            @Override
            public void set(Object object, @Nullable Object value) {
                Doors.later().fill(Objects.requireNonNull(holder.get(object)), value);
            }
        };
    }
}
