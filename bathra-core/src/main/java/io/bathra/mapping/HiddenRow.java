package io.bathra.mapping;

import org.jspecify.annotations.Nullable;

/** A row of a table whose key the domain never sees: that of parts, or of a pivot. */
public final class HiddenRow {
    private final @Nullable Object[] values;

    public HiddenRow(int size) {
        values = new Object[size];
    }

    @Nullable
    public Object get(int slot) {
        return values[slot];
    }

    void set(int slot, @Nullable Object value) {
        values[slot] = value;
    }

    /** The way to the value in a slot. */
    public static FieldAccess slot(int slot) {
        return new FieldAccess() {
            @Override
            public @Nullable Object get(Object object) {
                return ((HiddenRow) object).values[slot];
            }

            @Override
            public void set(Object object, @Nullable Object value) {
                ((HiddenRow) object).values[slot] = value;
            }
        };
    }
}
