package io.bathra.schema;

import io.bathra.attr.DeleteRule;
import java.util.List;

/**
 * A foreign key, by the names of the constraint, its columns, and the columns that these refer to.
 *
 * @param onDelete what happens to a row when the one that it refers to is deleted
 * @param deferrable whether it may be checked at the end of a transaction, where the database can
 */
public record ForeignKey(
        String name,
        List<String> columns,
        String targetTable,
        List<String> targetColumns,
        DeleteRule onDelete,
        boolean deferrable) {
    public ForeignKey {
        columns = List.copyOf(columns);
        targetColumns = List.copyOf(targetColumns);
    }
}
