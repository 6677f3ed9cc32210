package io.bathra.schema;

import java.util.List;

/**
 * A table as a database lists it; names are as listed.
 *
 * @param keyColumns the columns of its primary key, in order
 * @param uniques its unique constraints, the primary key's among them, and the indexes that are as good as one
 * @param indexes its indexes as far as they are on plain columns, unique ones among them
 * @param foreignKeys its foreign keys
 * @param checks its check constraints
 */
public record LiveTable(
        String name,
        List<LiveColumn> columns,
        List<String> keyColumns,
        List<UniqueConstraint> uniques,
        List<Index> indexes,
        List<ForeignKey> foreignKeys,
        List<LiveCheck> checks) {
    public LiveTable {
        columns = List.copyOf(columns);
        keyColumns = List.copyOf(keyColumns);
        uniques = List.copyOf(uniques);
        indexes = List.copyOf(indexes);
        foreignKeys = List.copyOf(foreignKeys);
        checks = List.copyOf(checks);
    }
}
