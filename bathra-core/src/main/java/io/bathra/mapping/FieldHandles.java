package io.bathra.mapping;

import io.bathra.access.HandleChain;
import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodHandles.Lookup;
import java.lang.invoke.MethodType;
import java.lang.reflect.AccessibleObject;
import java.lang.reflect.Constructor;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The way to one field of a class, whatever its visibility, by method handles. */
public final class FieldHandles implements FieldAccess {
    private static final MethodType GETTER = MethodType.methodType(Object.class, Object.class);
    private static final MethodType SETTER = MethodType.methodType(void.class, Object.class, Object.class);

    private final MethodHandle getter;
    /** Reads the field in its own type. */
    private final MethodHandle exact;

    private final @Nullable MethodHandle setter;

    private FieldHandles(MethodHandle exact, @Nullable MethodHandle setter) {
        this.exact = exact;
        this.getter = exact.asType(GETTER);
        this.setter = setter;
    }

    @Override
    public MethodHandle setter() {
        return setter == null ? FieldAccess.super.setter() : setter;
    }

    @Override
    public MethodHandle comparison(Gate gate) {
        return gate.comparison(exact);
    }

    /**
     * Opens a field.
     *
     * @param lookup the user's own, which reaches into a module that is not open to Bathra; or null
     * @throws IllegalAccessException with the mend as its message
     */
    public static FieldAccess to(Field field, @Nullable Lookup lookup) throws IllegalAccessException {
        Lookup way = reach(field, field.getDeclaringClass(), lookup);
        if (!HandleChain.COMPILED && field.trySetAccessible()) {
            return new FieldReflection(field);
        }
        boolean holder = Modifier.isFinal(field.getModifiers());
        return new FieldHandles(
                way.unreflectGetter(field),
                holder ? null : way.unreflectSetter(field).asType(SETTER));
    }

    /** The way into and out of a record that serves as a key. */
    public static Shape recordShape(Class<?> type, List<Gate> gates, @Nullable Lookup lookup)
            throws IllegalAccessException {
        List<MethodHandle> accessors = new ArrayList<>();
        List<Class<?>> parameters = new ArrayList<>();
        for (RecordComponent component : type.getRecordComponents()) {
            Lookup way = reach(component.getAccessor(), type, lookup);
            accessors.add(way.unreflect(component.getAccessor()));
            parameters.add(component.getType());
        }
        return new Shape.OfRecord(type, constructor(type, parameters, lookup), accessors, gates);
    }

    /**
     * The way to make an object.
     *
     * @throws IllegalAccessException with the mend as its message
     */
    public static MethodHandle constructor(Class<?> type, List<Class<?>> parameters, @Nullable Lookup lookup)
            throws IllegalAccessException {
        try {
            Constructor<?> constructor = type.getDeclaredConstructor(parameters.toArray(Class<?>[]::new));
            return reach(constructor, type, lookup).unreflectConstructor(constructor);
        } catch (NoSuchMethodException e) {
            throw new IllegalAccessException("it has no constructor without parameters");
        }
    }

    private static Lookup reach(AccessibleObject member, Class<?> owner, @Nullable Lookup lookup)
            throws IllegalAccessException {
        if (lookup != null) {
            return privateLookup(owner, lookup);
        }
        if (!member.trySetAccessible()) {
            throw new IllegalAccessException("module " + owner.getModule().getName() + " does not open it; write"
                    + " `opens " + owner.getPackageName() + " to "
                    + FieldHandles.class.getModule().getName()
                    + ";` in its module-info.java, or give Model.of a MethodHandles.lookup()");
        }
        return MethodHandles.lookup();
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
        } catch (Error e) {
            throw e;
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
        } catch (Error e) {
            throw e;
        } catch (Throwable e) {
            throw new IllegalStateException(
                    "cannot write a field of " + entity.getClass().getName(), e);
        }
    }
}
