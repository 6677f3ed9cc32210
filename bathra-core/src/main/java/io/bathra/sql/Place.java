package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.StoredColumn;
import org.jspecify.annotations.Nullable;

/**
 * A value as it stands in a statement.
 *
 * @param sql a column, or an expression
 * @param type what it gives
 * @param column the column whose values it has; null for something computed
 * @param nullable whether it may be missing
 */
public record Place(String sql, ColumnType type, @Nullable StoredColumn column, boolean nullable) {
    static Place of(String sql, StoredColumn column, boolean nullable) {
        return new Place(sql, column.type(), column, nullable);
    }

    /** What the place keeps of a value that it is compared with. */
    Object stored(Object value) {
        return column == null ? value : column.toStored(value);
    }

    /** The value as the user knows it. */
    public @Nullable Object shown(@Nullable Object stored) {
        return stored == null || column == null ? stored : column.fromStored(stored);
    }

    /** The same value in other words. */
    Place as(String otherSql) {
        return new Place(otherSql, type, column, nullable);
    }
}
