package io.bathra.mapping;

import org.jspecify.annotations.Nullable;

/** A persistent attribute of an entity, bound to its field. */
public abstract sealed class Attribute
        permits StoredAttribute, LinksAttribute, InverseAttribute, PivotAttribute, PartsAttribute {
    private final ModelEntity<?> entity;
    private final String name;
    private final FieldAccess field;

    Attribute(ModelEntity<?> entity, String name, FieldAccess field) {
        this.entity = entity;
        this.name = name;
        this.field = field;
    }

    /** The entity that has it. */
    public ModelEntity<?> entity() {
        return entity;
    }

    /** The field's name. */
    public String name() {
        return name;
    }

    /** What the field holds: a value, or the holder of an association. */
    public @Nullable Object get(Object object) {
        return field.get(object);
    }

    /** The way to the field itself. */
    final FieldAccess field() {
        return field;
    }

    /** Writes the field. Holders are never replaced. */
    public void set(Object object, @Nullable Object value) {
        field.set(object, value);
    }

    /** Entity and attribute: {@code Vessel.name}. */
    @Override
    public String toString() {
        return entity.name() + "." + name;
    }
}
