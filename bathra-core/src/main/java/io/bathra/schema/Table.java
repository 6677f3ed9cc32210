package io.bathra.schema;

import io.bathra.mapping.KeySource;
import java.util.List;

/**
 * A table.
 *
 * @param name its name, unquoted
 * @param columns its columns in order
 * @param primaryKey the name of its primary key constraint
 * @param keyColumns the columns of its primary key
 * @param uniques its unique constraints, without the primary key
 * @param foreignKeys its foreign keys
 * @param indexes its indexes; the columns of each foreign key have one
 * @param checks its check constraints
 * @param keySource where its keys come from
 */
public record Table(
        String name,
        List<Column> columns,
        String primaryKey,
        List<String> keyColumns,
        List<UniqueConstraint> uniques,
        List<ForeignKey> foreignKeys,
        List<Index> indexes,
        List<Check> checks,
        KeySource keySource) {
    public Table {
        columns = List.copyOf(columns);
        keyColumns = List.copyOf(keyColumns);
        uniques = List.copyOf(uniques);
        foreignKeys = List.copyOf(foreignKeys);
        indexes = List.copyOf(indexes);
        checks = List.copyOf(checks);
    }

    /** The same under another name. */
    public Table named(String otherName) {
        return new Table(otherName, columns, primaryKey, keyColumns, uniques, foreignKeys, indexes, checks, keySource);
    }

    /** The columns and checks alone, under another name: what expressions can be tried in. */
    public Table alone(String otherName) {
        List<Column> plain = columns.stream().map(Column::undrawn).toList();
        return new Table(
                otherName, plain, primaryKey, List.of(), List.of(), List.of(), List.of(), checks, KeySource.ASSIGNED);
    }
}
