package io.bathra.mapping;

import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import org.jspecify.annotations.Nullable;

/**
 * The way to one field by reflection, where handles are not compiled; what does not fit fails as it does by handles.
 */
final class FieldReflection implements FieldAccess {
    private final Field field;
    private final boolean holder;

    /**
     * @param field can be reached
     */
    FieldReflection(Field field) {
        this.field = field;
        this.holder = Modifier.isFinal(field.getModifiers());
    }

    @Override
    public @Nullable Object get(Object entity) {
        try {
            return field.get(entity);
        } catch (IllegalAccessException e) {
            throw new IllegalStateException(
                    "cannot read a field of " + entity.getClass().getName(), e);
        }
    }

    @Override
    public void set(Object entity, @Nullable Object value) {
        if (holder) {
            throw new IllegalStateException("the field is final");
        }
        if (value == null && field.getType().isPrimitive()) {
            throw new NullPointerException(field.getName() + " is a primitive " + field.getType());
        }
        try {
            field.set(entity, value);
        } catch (IllegalArgumentException e) {
            ClassCastException misfit = new ClassCastException(e.getMessage());
            misfit.initCause(e);
            throw misfit;
        } catch (IllegalAccessException e) {
            throw new IllegalStateException(
                    "cannot write a field of " + entity.getClass().getName(), e);
        }
    }
}
