package io.bathra.mapping;

import io.bathra.access.Doors;
import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodType;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** The way to what an attribute holds in an object. */
public interface FieldAccess {
    @Nullable
    Object get(Object object);

    void set(Object object, @Nullable Object value);

    /** {@link #set} as a handle. */
    default MethodHandle setter() {
        return Handles.method(FieldAccess.class, "set", MethodType.methodType(void.class, Object.class, Object.class))
                .bindTo(this);
    }

    /** What tells of an object and a kept value whether the field holds the same for a column. */
    default MethodHandle comparison(Gate gate) {
        MethodHandle get = Handles.method(FieldAccess.class, "get", MethodType.methodType(Object.class, Object.class))
                .bindTo(this);
        return gate.comparison(get);
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
