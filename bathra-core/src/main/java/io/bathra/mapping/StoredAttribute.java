package io.bathra.mapping;

import io.bathra.attr.Secret;
import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodType;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** An attribute that is stored in one or more columns of its entity's own table. */
public abstract sealed class StoredAttribute extends Attribute permits ColumnAttribute, LinkAttribute {
    private final int slot;
    private final boolean required;

    StoredAttribute(ModelEntity<?> entity, String name, FieldAccess field, int slot, boolean required) {
        super(entity, name, field);
        this.slot = slot;
        this.required = required;
    }

    /** Gives an object the value that was read for it. */
    public void load(Object object, @Nullable Object read) {
        set(object, shape().kept(read));
    }

    /** Whether a value goes through a converter of the user's, or is an object of his that is made of several columns. */
    public boolean isConverted() {
        return shape() instanceof Shape.OfRecord || shape().gates().stream().anyMatch(Gate::isConverted);
    }

    /** {@link #load} as a handle. */
    MethodHandle loader() {
        return Handles.method(
                        StoredAttribute.class, "load", MethodType.methodType(void.class, Object.class, Object.class))
                .bindTo(this);
    }

    /** {@link #isSame} as a handle. */
    MethodHandle comparison() {
        return Handles.method(
                        StoredAttribute.class,
                        "isSame",
                        MethodType.methodType(boolean.class, Object.class, Object.class))
                .bindTo(this);
    }

    /** Whether an object has the value that was kept. */
    final boolean isSame(Object object, @Nullable Object kept) {
        return shape().same(kept, get(object));
    }

    /** Whether its values are none of the user's business: versions, and what the database computes. */
    public boolean isManaged() {
        return this == entity().version() || databaseMade() instanceof DatabaseMade.Computed;
    }

    /** The place of its value in a row: {@code entity().stored().get(slot())} is this attribute. */
    public int slot() {
        return slot;
    }

    /** Whether there must be a value. */
    public boolean required() {
        return required;
    }

    /** Whether it is the entity's key, or a part of it. */
    public boolean isKey() {
        return slot < entity().keyAttributes().size();
    }

    /** A value as it may stand in a message. */
    public @Nullable Object shown(@Nullable Object value) {
        return isSecret() && value != null ? Secret.hide(value).toString() : value;
    }

    /** Whether the constraints that it is part of may be checked at the end of a flush. */
    public boolean isDeferrable() {
        return false;
    }

    /** The part that the database plays in its value; null for none. */
    public @Nullable DatabaseMade databaseMade() {
        return null;
    }

    /** Whether its value is read on request, and not with the row. */
    public boolean isLater() {
        return false;
    }

    /** The holder of a value that is read on request. */
    public Object later(Object object) {
        throw new IllegalStateException(this + " is read with its row");
    }

    /** Whether its value is that of its one column as it is. */
    public final boolean isOneValue() {
        return shape() instanceof Shape.Single;
    }

    /** What its columns keep of a value; what a link leads to is kept as it is. */
    public @Nullable Object kept(@Nullable Object value) {
        return shape().kept(value);
    }

    /** Whether its columns keep the same of a value as they hold. */
    public boolean same(@Nullable Object kept, @Nullable Object value) {
        return shape().same(kept, value);
    }

    /** What its columns would keep of an object; of a link, the key that it or its target tells. */
    public @Nullable Object storedOf(Object object) {
        return kept(get(object));
    }

    /** How its value lies in columns; for a link, that of the target's key. */
    public abstract Shape shape();

    /** The columns that its value lies in. */
    public abstract List<StoredColumn> columns();
}
