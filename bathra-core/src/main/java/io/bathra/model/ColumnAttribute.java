package io.bathra.model;

import io.bathra.error.BathraException;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A plain or converted value, in a column; a record that serves as a key, in several. */
public final class ColumnAttribute extends StoredAttribute {
    private final Shape shape;
    private final List<StoredColumn> columns;
    private final Traits traits;

    ColumnAttribute(
            ModelEntity<?> entity,
            String name,
            FieldAccess field,
            int slot,
            List<String> columnNames,
            boolean required,
            Shape shape,
            Traits traits) {
        super(entity, name, field, slot, required);
        this.shape = shape;
        this.traits = traits;
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
        Converter<?, ?> converter = traits.converter();
        try {
            super.set(object, value == null || converter == null ? value : converter.fromStored(value));
        } catch (RuntimeException e) {
            throw new BathraException(
                    this + ": the column's value " + shown(value) + " cannot be converted: " + why(e),
                    isSecret() ? null : e);
        }
    }

    /** What the column keeps of a value of the field's type. */
    public Object toStored(Object value) {
        Converter<?, ?> converter = traits.converter();
        try {
            return converter == null ? value : converter.toStored(value);
        } catch (RuntimeException e) {
            throw new BathraException(
                    this + ": the value " + shown(value) + " cannot be converted: " + why(e), isSecret() ? null : e);
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

    private String why(RuntimeException e) {
        return isSecret() ? "it is secret" : String.valueOf(e.getMessage());
    }

    @Override
    public boolean isSecret() {
        return traits.secret();
    }

    @Override
    public @Nullable DatabaseMade databaseMade() {
        return traits.databaseMade();
    }

    /** Whether the field is of a primitive type, so that it cannot hold null. */
    public boolean primitive() {
        return traits.primitive();
    }
}
