package io.bathra.sql;

import io.bathra.model.ColumnType;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A statement and the values to bind to its placeholders, in order. */
public record SqlText(String sql, List<Param> params) {
    public SqlText {
        params = List.copyOf(params);
    }

    /** What is bound to one placeholder. */
    public sealed interface Param {
        /** The type of the column that the value is compared with or written to. */
        ColumnType type();
    }

    /** One value. */
    public record Value(ColumnType type, @Nullable Object value) implements Param {}

    /** Several values in one placeholder. */
    public record ArrayValue(ColumnType type, List<?> values) implements Param {}
}
