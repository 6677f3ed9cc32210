package io.bathra.sql;

import io.bathra.error.BathraException;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Misfit;
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

    /** What the place would keep of a value that it is compared with. */
    Object stored(Object value) {
        return refused(column == null ? type.compared(value) : column.compared(value));
    }

    private Object refused(Object value) {
        String wrong = Misfit.anywhere(value);
        if (wrong != null) {
            throw new BathraException(
                    "the value that " + (column == null ? sql : column) + " is compared with " + wrong);
        }
        return value;
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
