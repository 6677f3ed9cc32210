package io.bathra.model;

import io.bathra.error.BathraException;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A plain or converted value, in a column; a record that serves as a key, in several. */
public final class ColumnAttribute extends StoredAttribute {
    private final Shape shape;
    private final List<StoredColumn> columns;
    private final boolean primitive;
    private final @Nullable Converter<?, ?> converter;

    ColumnAttribute(
            ModelEntity<?> entity,
            String name,
            FieldAccess field,
            int slot,
            List<String> columnNames,
            boolean required,
            Shape shape,
            boolean primitive,
            @Nullable Converter<?, ?> converter) {
        super(entity, name, field, slot, required);
        this.shape = shape;
        this.primitive = primitive;
        this.converter = converter;
        List<StoredColumn> all = new ArrayList<>();
        for (int part = 0; part < columnNames.size(); part++) {
            all.add(new StoredColumn(
                    this, part, columnNames.get(part), shape.types().get(part)));
        }
        columns = List.copyOf(all);
    }

    /** What the column would keep of the field: a converted attribute shows itself converted. */
    @Override
    public @Nullable Object get(Object object) {
        Object value = super.get(object);
        return value == null ? null : toStored(value);
    }

    /** Writes the field with what a value of the column stands for. */
    @Override
    public void set(Object object, @Nullable Object value) {
        try {
            super.set(object, value == null || converter == null ? value : converter.fromStored(value));
        } catch (RuntimeException e) {
            throw new BathraException(
                    this + ": the column's value " + value + " cannot be converted: " + e.getMessage(), e);
        }
    }

    /** What the column keeps of a value of the field's type. */
    public Object toStored(Object value) {
        try {
            return converter == null ? value : converter.toStored(value);
        } catch (RuntimeException e) {
            throw new BathraException(this + ": the value " + value + " cannot be converted: " + e.getMessage(), e);
        }
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
