package io.bathra.mapping;

import org.jspecify.annotations.Nullable;

/**
 * One column of a stored attribute.
 *
 * @param attribute the attribute whose value, or part of it, lies here
 * @param part which part of the value, counted from 0
 * @param path the way to the part inside an inlined value, {@code home.city} say; empty for all other columns
 * @param name the column's name, unquoted
 * @param gate where its values pass
 * @param required whether the column is NOT NULL
 * @param wanted whether there must be a value here when the inlined value around it is there
 */
public record StoredColumn(
        StoredAttribute attribute, int part, String path, String name, Gate gate, boolean required, boolean wanted) {
    /** What a row, given as the values of its attributes by slot, has in this column. */
    public @Nullable Object in(@Nullable Object[] row) {
        return attribute.shape().part(row[attribute.slot()], part);
    }

    /** What the column keeps. */
    public ColumnType type() {
        return gate.type();
    }

    /** Whether an inlined value that has this column's value as a member is there in a value of the attribute. */
    public boolean isAroundThere(Object value) {
        int end = path.lastIndexOf('.') + 1;
        String around = path.substring(0, end);
        return attribute.columns().stream()
                .anyMatch(column ->
                        column.path.startsWith(around) && attribute.shape().part(value, column.part) != null);
    }

    /** A short name, unique within the entity, that needs no quotes. */
    public String alias() {
        return "c" + attribute.slot() + (part == 0 ? "" : "_" + part);
    }

    /** The attribute and the way into it: {@code dimensions.beam}. */
    public String label() {
        return attribute.name() + (path.isEmpty() ? "" : "." + path);
    }

    @Override
    public String toString() {
        return attribute + (attribute.columns().size() == 1 ? "" : "." + name);
    }
}
