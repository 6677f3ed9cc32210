package io.bathra.model;

/** A plain value in a column. */
public final class ColumnAttribute extends StoredAttribute {
    private final ColumnType type;
    private final boolean primitive;

    ColumnAttribute(
            ModelEntity<?> entity,
            String name,
            FieldAccess field,
            int slot,
            String column,
            boolean required,
            boolean unique,
            ColumnType type,
            boolean primitive) {
        super(entity, name, field, slot, column, required, unique);
        this.type = type;
        this.primitive = primitive;
    }

    @Override
    public ColumnType type() {
        return type;
    }

    /** Whether the field is of a primitive type, so that it cannot hold null. */
    public boolean primitive() {
        return primitive;
    }
}
