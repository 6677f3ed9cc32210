package io.bathra.sql;

import io.bathra.history.Fill;
import io.bathra.schema.Check;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

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

    /** Whether a column keeps the same, under whatever name. */
    static boolean isSame(Column old, Column column) {
        return old.type().equals(column.type())
                && old.required() == column.required()
                && Objects.equals(old.made(), column.made());
    }

    /** The unique constraint that one before the step has become; null for one that goes. */
    @Nullable
    UniqueConstraint now(UniqueConstraint old) {
        return after.uniques().stream()
                .filter(one -> one.columns().equals(now(old.columns())) && one.deferrable() == old.deferrable())
                .findFirst()
                .orElse(null);
    }

    /** The check that one before the step has become: that of the same name, unless names alone have changed in all. */
    @Nullable
    Check now(Check old) {
        List<Check> checks = before.checks();
        List<Check> next = after.checks();
        for (Check one : next) {
            if (one.name().equals(old.name())) {
                return one;
            }
        }
        boolean kept = checks.size() == next.size()
                && checks.stream()
                        .noneMatch(one ->
                                next.stream().anyMatch(other -> other.name().equals(one.name())));
        return kept ? next.get(checks.indexOf(old)) : null;
    }
}
