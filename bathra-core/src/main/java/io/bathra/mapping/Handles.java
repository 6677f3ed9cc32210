package io.bathra.mapping;

import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodHandles.Lookup;
import java.lang.invoke.MethodType;
import org.jspecify.annotations.Nullable;

/**
 * Handles of methods of this package, and comparisons made of them: each takes an object and what was kept of one
 * value.
 */
final class Handles {
    private static final Lookup HERE = MethodHandles.lookup();
    private static final MethodType COMPARISON = MethodType.methodType(boolean.class, Object.class, Object.class);
    private static final MethodHandle SAME = method(Cut.class, "same", COMPARISON);
    private static final MethodHandle SAME_NUMBER = own("same", long.class);
    private static final MethodHandle SAME_FRACTION = own("same", double.class);

    private Handles() {}

    /** A method, which takes the object that it is called on first. */
    static MethodHandle method(Class<?> owner, String name, MethodType type) {
        try {
            return HERE.findVirtual(owner, name, type);
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException(e);
        }
    }

    private static MethodHandle own(String name, Class<?> now) {
        try {
            return HERE.findStatic(Handles.class, name, COMPARISON.changeParameterType(0, now));
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Primitives are compared as they are, since all objects of a unit are looked at in each flush. */
    static MethodHandle comparison(Cut cut, MethodHandle getter) {
        Class<?> held = getter.type().returnType();
        if (held == double.class || held == float.class) {
            return MethodHandles.filterArguments(
                    SAME_FRACTION, 0, getter.asType(MethodType.methodType(double.class, Object.class)));
        }
        if (held.isPrimitive() && held != boolean.class && held != char.class) {
            return MethodHandles.filterArguments(
                    SAME_NUMBER, 0, getter.asType(MethodType.methodType(long.class, Object.class)));
        }
        MethodHandle keptAndObject = MethodHandles.filterArguments(
                SAME.bindTo(cut), 1, getter.asType(MethodType.methodType(Object.class, Object.class)));
        return MethodHandles.permuteArguments(keptAndObject, COMPARISON, 1, 0);
    }

    static boolean same(long now, @Nullable Object kept) {
        return kept instanceof Number before && now == before.longValue();
    }

    static boolean same(double now, @Nullable Object kept) {
        return kept instanceof Number before && Double.compare(now + 0.0, before.doubleValue()) == 0;
    }
}
