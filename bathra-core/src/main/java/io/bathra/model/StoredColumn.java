package io.bathra.model;

import org.jspecify.annotations.Nullable;

/**
 * One column of a stored attribute.
 *
 * @param attribute the attribute whose value, or part of it, lies here
 * @param part which part of the value, counted from 0
 * @param name the column's name, unquoted
 * @param type what the column keeps
 */
public record StoredColumn(StoredAttribute attribute, int part, String name, ColumnType type) {
    /** What a row, given as the values of its attributes by slot, has in this column. */
    public @Nullable Object in(@Nullable Object[] row) {
        return attribute.shape().part(row[attribute.slot()], part);
    }

    /** Whether the column is NOT NULL. */
    public boolean required() {
        return attribute.required();
    }

    /** A short name, unique within the entity, that needs no quotes. */
    public String alias() {
        return "c" + attribute.slot() + (part == 0 ? "" : "_" + part);
    }

    @Override
    public String toString() {
        return attribute + (attribute.columns().size() == 1 ? "" : "." + name);
    }
}
