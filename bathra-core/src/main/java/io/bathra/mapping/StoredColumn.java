package io.bathra.mapping;

import io.bathra.attr.Converter;
import org.jspecify.annotations.Nullable;

/**
 * One column of a stored attribute.
 *
 * @param attribute the attribute whose value, or part of it, lies here
 * @param part which part of the value, counted from 0
 * @param path the way to the part inside an inlined value, {@code home.city} say; empty for all other columns
 * @param name the column's name, unquoted
 * @param type what the column keeps
 * @param required whether the column is NOT NULL
 * @param wanted whether there must be a value here when the inlined value around it is there
 * @param converter what turns a value of the user's into one of the column; null for none
 */
public record StoredColumn(
        StoredAttribute attribute,
        int part,
        String path,
        String name,
        ColumnType type,
        boolean required,
        boolean wanted,
        @Nullable Converter<?, ?> converter) {
    /** What a row, given as the values of its attributes by slot, has in this column. */
    public @Nullable Object in(@Nullable Object[] row) {
        return attribute.shape().part(row[attribute.slot()], part);
    }

    /** What the column keeps of a value of the user's. */
    public Object toStored(Object value) {
        return converter == null ? value : converter.toStored(value);
    }

    /** What the column would keep of a value that a condition compares with. */
    public Object compared(Object value) {
        return type.compared(toStored(value));
    }

    /** The user's value of one that the column keeps. */
    public Object fromStored(Object stored) {
        return converter == null ? stored : converter.fromStored(stored);
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
