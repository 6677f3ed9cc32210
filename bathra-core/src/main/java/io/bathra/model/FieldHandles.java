package io.bathra.model;

import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodHandles.Lookup;
import java.lang.invoke.MethodType;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The way to one field of a class, whatever its visibility, by method handles. */
final class FieldHandles implements FieldAccess {
    private static final MethodType GETTER = MethodType.methodType(Object.class, Object.class);
    private static final MethodType SETTER = MethodType.methodType(void.class, Object.class, Object.class);

    private final MethodHandle getter;
    private final @Nullable MethodHandle setter;

    private FieldHandles(MethodHandle getter, @Nullable MethodHandle setter) {
        this.getter = getter;
        this.setter = setter;
    }

    /**
     * Opens a field.
     *
     * @param lookup the user's own, which reaches into a module that is not open to Bathra; or null
     * @throws IllegalAccessException with the mend as its message
     */
    static FieldHandles to(Field field, @Nullable Lookup lookup) throws IllegalAccessException {
        Class<?> owner = field.getDeclaringClass();
        Lookup way = lookup == null ? MethodHandles.lookup() : privateLookup(owner, lookup);
        if (lookup == null && !field.trySetAccessible()) {
            throw new IllegalAccessException("module " + owner.getModule().getName() + " does not open it; write"
                    + " `opens " + owner.getPackageName() + " to "
                    + FieldHandles.class.getModule().getName()
                    + ";` in its module-info.java, or give Model.of a MethodHandles.lookup()");
        }
        boolean holder = Modifier.isFinal(field.getModifiers());
        return new FieldHandles(
                way.unreflectGetter(field).asType(GETTER),
                holder ? null : way.unreflectSetter(field).asType(SETTER));
    }

    /** The way into and out of a record that serves as a key. */
    static Shape recordShape(Class<?> type, List<ColumnType> types, @Nullable Lookup lookup)
            throws IllegalAccessException {
        Lookup way = lookup == null
                ? MethodHandles.privateLookupIn(type, MethodHandles.lookup())
                : privateLookup(type, lookup);
        List<MethodHandle> accessors = new ArrayList<>();
        List<Class<?>> parameters = new ArrayList<>();
        for (RecordComponent component : type.getRecordComponents()) {
            accessors.add(way.unreflect(component.getAccessor()));
            parameters.add(component.getType());
        }
        try {
            MethodHandle constructor = way.findConstructor(type, MethodType.methodType(void.class, parameters));
            return new Shape.OfRecord(type, constructor, accessors, types);
        } catch (NoSuchMethodException e) {
            throw new IllegalStateException("a record has a constructor for its components", e);
        }
    }

    private static Lookup privateLookup(Class<?> owner, Lookup lookup) throws IllegalAccessException {
        try {
            return MethodHandles.privateLookupIn(owner, lookup);
        } catch (IllegalAccessException e) {
            throw new IllegalAccessException("the lookup given to Model.of, made in "
                    + lookup.lookupClass().getName() + ", does not reach " + owner.getName()
                    + "; make it in the module of that class");
        }
    }

    @Override
    public @Nullable Object get(Object entity) {
        try {
            return getter.invokeExact(entity);
        } catch (Throwable e) {
            throw new IllegalStateException(
                    "cannot read a field of " + entity.getClass().getName(), e);
        }
    }

    @Override
    public void set(Object entity, @Nullable Object value) {
        try {
            if (setter == null) {
                throw new IllegalStateException("the field is final");
            }
            setter.invokeExact(entity, value);
        } catch (Throwable e) {
            throw new IllegalStateException(
                    "cannot write a field of " + entity.getClass().getName(), e);
        }
    }
}
