package io.bathra.access;

import io.bathra.error.BathraException;
import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodType;
import java.lang.reflect.Constructor;
import java.lang.reflect.RecordComponent;
import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/** Makes records of the values of their components. */
public final class RecordMaker<R> {
    private static final ClassValue<RecordMaker<?>> MAKERS = new ClassValue<>() {
        @Override
        protected RecordMaker<?> computeValue(Class<?> type) {
            return make(type);
        }
    };

    private static final MethodType MAKER = MethodType.methodType(Object.class, Object[].class);

    private final Class<R> type;
    private final RecordComponent[] components;
    /** Takes the values as one array. */
    private final MethodHandle constructor;

    private final boolean[] primitive;

    private RecordMaker(Class<R> type, RecordComponent[] components, MethodHandle constructor) {
        this.type = type;
        this.components = components;
        this.constructor = constructor;
        primitive = new boolean[components.length];
        for (int i = 0; i < primitive.length; i++) {
            primitive[i] = components[i].getType().isPrimitive();
        }
    }

    /**
     * The maker of a record, which is made once for its class.
     *
     * @throws BathraException when its constructor cannot be called from here
     */
    @SuppressWarnings("unchecked") // each class has the maker of its own records
    public static <R> RecordMaker<R> of(Class<R> type) {
        return (RecordMaker<R>) MAKERS.get(type);
    }

    private static <R> RecordMaker<R> make(Class<R> type) {
        RecordComponent[] components = type.getRecordComponents();
        Class<?>[] parameters =
                Arrays.stream(components).map(RecordComponent::getType).toArray(Class<?>[]::new);
        try {
            Constructor<R> constructor = type.getDeclaredConstructor(parameters);
            constructor.setAccessible(true);
            MethodHandle maker = MethodHandles.lookup()
                    .unreflectConstructor(constructor)
                    .asSpreader(Object[].class, parameters.length)
                    .asType(MAKER);
            return new RecordMaker<>(type, components, maker);
        } catch (ReflectiveOperationException | RuntimeException e) {
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
    @SuppressWarnings("unchecked") // the constructor makes what it is the constructor of
    public R make(@Nullable Object[] values) {
        try {
            return (R) constructor.invokeExact(values);
        } catch (NullPointerException e) {
            refuseMissing(values);
            throw new BathraException(type.getSimpleName() + " refuses a row: " + e.getMessage(), e);
        } catch (ClassCastException e) {
            throw new BathraException(
                    "the values " + Arrays.toString(values) + " do not fit the components of " + type.getSimpleName(),
                    e);
        } catch (Error e) {
            throw e;
        } catch (Throwable e) {
            throw new BathraException(type.getSimpleName() + " refuses a row: " + e.getMessage(), e);
        }
    }

    private void refuseMissing(@Nullable Object[] values) {
        for (int i = 0; i < values.length; i++) {
            if (values[i] == null && primitive[i]) {
                throw new BathraException("a row has no value for " + type.getSimpleName() + "."
                        + components[i].getName() + ", which is a primitive " + components[i].getType()
                        + "; take its boxed type, or another value where it is missing");
            }
        }
    }
}
