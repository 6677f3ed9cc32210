package io.bathra.sql;

import io.bathra.history.Fill;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Table;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A table before and after a step.
 *
 * @param columns the columns that stay, by their names before, with their names after
 * @param tables the tables that stay, by their names before, with their names after
 * @param fields the columns of each field after the step
 * @param fills what rows that are there get, by the column's name after
 */
record TableChange(
        Table before,
        Table after,
        Map<String, String> columns,
        Map<String, String> tables,
        Map<String, Fill> fills,
        Map<String, List<Column>> fields) {
    TableChange {
        columns = Map.copyOf(columns);
        tables = Map.copyOf(tables);
        fills = Map.copyOf(fills);
        fields = Map.copyOf(fields);
    }

    boolean isNothing() {
        return before.equals(after);
    }

    boolean isRenamed() {
        return !before.name().equals(after.name());
    }

    /** The column after the step that one before it has become; none for one that goes. */
    Optional<Column> now(Column old) {
        String name = columns.get(old.name());
        return after.columns().stream().filter(one -> one.name().equals(name)).findFirst();
    }

    /** The column before the step that has become one after it; none for a new one. */
    Optional<Column> then(Column column) {
        return before.columns().stream()
                .filter(one -> column.name().equals(columns.get(one.name())))
                .findFirst();
    }

    /** The names after the step; an unknown one, for a column that goes. */
    List<String> now(List<String> names) {
        return names.stream()
                .map(name -> columns.getOrDefault(name, "- " + name))
                .toList();
    }

    /** Whether a foreign key has stayed what it was, but for names. */
    boolean isSame(ForeignKey old, ForeignKey key) {
        return now(old.columns()).equals(key.columns())
                && tables.getOrDefault(old.targetTable(), "- " + old.targetTable())
                        .equals(key.targetTable())
                && old.onDelete() == key.onDelete()
                && old.deferrable() == key.deferrable();
    }
}
