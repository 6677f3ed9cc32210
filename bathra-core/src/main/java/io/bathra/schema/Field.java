package io.bathra.schema;

import io.bathra.attr.DeleteRule;
import io.bathra.mapping.ColumnType;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What a sheet keeps of each of its rows under one name. */
public sealed interface Field {
    /** The attribute's name; of a member of an inlined value, the way to it: {@code address.city}. */
    String name();

    /** Whether it must have a value. */
    boolean required();

    /** The names of its columns, unquoted. */
    List<String> columns();

    /** The same with other names. */
    Field named(String newName, List<String> newColumns);

    /**
     * A value in one column.
     *
     * @param byDefault the SQL expression that gives new rows a value; null for none
     * @param computed the SQL expression that it is always computed from; null for none
     */
    record OfColumn(
            String name,
            String column,
            ColumnType type,
            boolean required,
            @Nullable String byDefault,
            @Nullable String computed)
            implements Field {
        @Override
        public List<String> columns() {
            return List.of(column);
        }

        @Override
        public Field named(String newName, List<String> newColumns) {
            return new OfColumn(newName, newColumns.get(0), type, required, byDefault, computed);
        }
    }

    /**
     * A link to a row of another sheet: a foreign key.
     *
     * @param to the name of the other sheet
     * @param constraint the foreign key's name
     * @param index the name of the index on its columns, if it should have one of its own
     */
    record OfLink(
            String name,
            List<String> columns,
            String to,
            boolean required,
            DeleteRule onDelete,
            boolean deferrable,
            String constraint,
            String index)
            implements Field {
        public OfLink {
            columns = List.copyOf(columns);
        }

        @Override
        public Field named(String newName, List<String> newColumns) {
            return new OfLink(newName, newColumns, to, required, onDelete, deferrable, constraint, index);
        }

        /** The same that leads to another sheet. */
        OfLink leadingTo(String other) {
            return new OfLink(name, columns, other, required, onDelete, deferrable, constraint, index);
        }

        /** The same with other names of its constraint and index. */
        public OfLink with(String newConstraint, String newIndex) {
            return new OfLink(name, columns, to, required, onDelete, deferrable, newConstraint, newIndex);
        }
    }

    /** All columns of some fields. */
    static List<String> columns(List<Field> fields) {
        List<String> all = new ArrayList<>();
        fields.forEach(field -> all.addAll(field.columns()));
        return List.copyOf(all);
    }
}
