package io.bathra.mapping;

/** A part that the database itself plays in the value of a column; what it made is read back after writing. */
public sealed interface DatabaseMade {
    /** Whether an update of the row may change the value. */
    default boolean changesOnUpdate() {
        return !(this instanceof Default);
    }

    /** A value for new rows that have none. */
    record Default(String sql) implements DatabaseMade {}

    /** Always computed from other columns of the row; never written. */
    record Computed(String sql) implements DatabaseMade {}

    /** Written, and possibly changed by a trigger. */
    record Changed() implements DatabaseMade {}
}
