package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.StoredColumn;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What is behind one placeholder of a row that is written.
 *
 * @param column the column whose value it is
 * @param expected whether it is the value that the row is expected to have still, not the one that it gets
 */
public record Parameter(StoredColumn column, boolean expected) {
    /** The new value of a column. */
    static Parameter of(StoredColumn column) {
        return new Parameter(column, false);
    }

    static List<Parameter> of(List<StoredColumn> columns) {
        return columns.stream().map(Parameter::of).toList();
    }

    public ColumnType type() {
        return column.type();
    }

    /** The value; a row carries the version that it is expected to have behind the values of its attributes. */
    public @Nullable Object in(@Nullable Object[] row) {
        return expected ? row[row.length - 1] : column.in(row);
    }

    /** A short name, unique within the row, that needs no quotes. */
    String alias() {
        return expected ? "expected" : column.alias();
    }
}
