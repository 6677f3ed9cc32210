package io.bathra.model;

/** An attribute that is stored in a column of its entity's own table. */
public abstract sealed class StoredAttribute extends Attribute permits ColumnAttribute, LinkAttribute {
    private final int slot;
    private final String column;
    private final boolean required;
    private final boolean unique;

    StoredAttribute(
            ModelEntity<?> entity,
            String name,
            FieldAccess field,
            int slot,
            String column,
            boolean required,
            boolean unique) {
        super(entity, name, field);
        this.slot = slot;
        this.column = column;
        this.required = required;
        this.unique = unique;
    }

    /** The place of its value in a row: {@code entity().stored().get(slot())} is this attribute. */
    public int slot() {
        return slot;
    }

    /** The column's name, unquoted. */
    public String column() {
        return column;
    }

    /** Whether the column is NOT NULL. */
    public boolean required() {
        return required;
    }

    /** Whether no two rows may have the same value. True for keys. */
    public boolean unique() {
        return unique;
    }

    /** The type of the column; for a link, that of the target's key. */
    public abstract ColumnType type();
}
