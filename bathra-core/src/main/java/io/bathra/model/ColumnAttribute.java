package io.bathra.model;

import java.util.ArrayList;
import java.util.List;

/** A plain value, in a column; a record that serves as a key, in several. */
public final class ColumnAttribute extends StoredAttribute {
    private final Shape shape;
    private final List<StoredColumn> columns;
    private final boolean primitive;

    ColumnAttribute(
            ModelEntity<?> entity,
            String name,
            FieldAccess field,
            int slot,
            List<String> columnNames,
            boolean required,
            Shape shape,
            boolean primitive) {
        super(entity, name, field, slot, required);
        this.shape = shape;
        this.primitive = primitive;
        List<StoredColumn> all = new ArrayList<>();
        for (int part = 0; part < columnNames.size(); part++) {
            all.add(new StoredColumn(
                    this, part, columnNames.get(part), shape.types().get(part)));
        }
        columns = List.copyOf(all);
    }

    @Override
    public Shape shape() {
        return shape;
    }

    @Override
    public List<StoredColumn> columns() {
        return columns;
    }

    /** Whether the field is of a primitive type, so that it cannot hold null. */
    public boolean primitive() {
        return primitive;
    }
}
