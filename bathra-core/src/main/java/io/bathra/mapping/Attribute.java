package io.bathra.mapping;

import io.bathra.access.Accessor;
import java.util.List;
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

    /** Its accessor, as a method reference is written: {@code Vessel::name}. */
    public String accessor() {
        boolean hidden = entity.type() == HiddenRow.class;
        return hidden ? entity.name() + "::" + name : Accessor.written(entity.type(), name);
    }

    /** Whether it is a link that holds a foreign key. */
    public boolean isLink() {
        return false;
    }

    /** The entity at the other end of an association; null for values and parts. */
    public @Nullable ModelEntity<?> target() {
        return null;
    }

    /** What an association leads to in this object, as far as it is here. */
    public List<Object> present(Object object) {
        return List.of();
    }

    /** Whether its values are kept out of messages, traces and logs. */
    public boolean isSecret() {
        return false;
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
