package io.bathra.access;

import io.bathra.error.BathraException;
import java.lang.reflect.Constructor;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;
import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/** Makes records of the values of their components. */
public final class RecordMaker<R> {
    private final Class<R> type;
    private final RecordComponent[] components;
    private final Constructor<R> constructor;

    private RecordMaker(Class<R> type, RecordComponent[] components, Constructor<R> constructor) {
        this.type = type;
        this.components = components;
        this.constructor = constructor;
    }

    /**
     * The maker of a record.
     *
     * @throws BathraException when its constructor cannot be called from here
     */
    public static <R> RecordMaker<R> of(Class<R> type) {
        RecordComponent[] components = type.getRecordComponents();
        Class<?>[] parameters =
                Arrays.stream(components).map(RecordComponent::getType).toArray(Class<?>[]::new);
        try {
            Constructor<R> constructor = type.getDeclaredConstructor(parameters);
            constructor.setAccessible(true);
            return new RecordMaker<>(type, components, constructor);
        } catch (NoSuchMethodException | RuntimeException e) {
            throw new BathraException(
                    type.getName() + " cannot be made; make the record public, or open its package to io.bathra.core",
                    e);
        }
    }

    /**
     * A record.
     *
     * @param values those of its components, in their order
     * @throws BathraException when a value does not fit its component
     */
    public R make(@Nullable Object[] values) {
        for (int i = 0; i < values.length; i++) {
            if (values[i] == null && components[i].getType().isPrimitive()) {
                throw new BathraException("a row has no value for " + type.getSimpleName() + "."
                        + components[i].getName() + ", which is a primitive " + components[i].getType()
                        + "; take its boxed type, or another value where it is missing");
            }
        }
        try {
            return constructor.newInstance(values);
        } catch (InvocationTargetException e) {
            throw new BathraException(
                    type.getSimpleName() + " refuses a row: " + e.getCause().getMessage(), e.getCause());
        } catch (IllegalArgumentException e) {
            throw new BathraException(
                    "the values " + Arrays.toString(values) + " do not fit the components of " + type.getSimpleName(),
                    e);
        } catch (ReflectiveOperationException e) {
            throw new BathraException(type.getName() + " cannot be made", e);
        }
    }
}
