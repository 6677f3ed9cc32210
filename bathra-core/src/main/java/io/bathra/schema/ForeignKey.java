package io.bathra.schema;

import java.util.List;

/** A foreign key, by the names of the constraint, its columns, and the columns that these refer to. */
public record ForeignKey(String name, List<String> columns, String targetTable, List<String> targetColumns) {
    public ForeignKey {
        columns = List.copyOf(columns);
        targetColumns = List.copyOf(targetColumns);
    }
}
