package io.bathra.access;

import io.bathra.attr.Attr;
import io.bathra.error.BathraException;
import java.io.IOException;
import java.io.ObjectOutputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.lang.invoke.MethodHandleInfo;
import java.lang.invoke.MethodType;
import java.lang.invoke.SerializedLambda;
import java.util.List;
import java.util.concurrent.atomic.AtomicReference;
import org.jspecify.annotations.Nullable;

/**
 * The method that an {@link Attr} names.
 *
 * @param owner the class on whose objects it is called
 * @param method the method's name
 */
public record Accessor(Class<?> owner, String method) {
    /** A call site's class serves one method reference, so the member is looked up once per call site. */
    private static final ClassValue<AtomicReference<Accessor>> CACHE = new ClassValue<>() {
        @Override
        protected AtomicReference<Accessor> computeValue(Class<?> lambda) {
            return new AtomicReference<>();
        }
    };

    /**
     * The accessor behind a method reference.
     *
     * @throws BathraException when {@code attr} is not a plain reference to a method without parameters
     */
    public static Accessor of(Attr<?, ?> attr) {
        AtomicReference<Accessor> cached = CACHE.get(attr.getClass());
        Accessor known = cached.get();
        if (known == null) {
            known = resolve(attr);
            cached.set(known);
        }
        return known;
    }

    private static boolean isThere(Class<?> type, String method) {
        try {
            return type.getDeclaredMethod(method).getParameterCount() == 0;
        } catch (NoSuchMethodException e) {
            return false;
        }
    }

    /** The accessor of a field, as a method reference is written: {@code Vessel::name}, {@code Vessel::getName}. */
    public static String written(Class<?> owner, String field) {
        String capitalized = Character.toUpperCase(field.charAt(0)) + field.substring(1);
        for (String method : List.of(field, "get" + capitalized, "is" + capitalized)) {
            for (Class<?> at = owner; at != null; at = at.getSuperclass()) {
                if (isThere(at, method)) {
                    return owner.getSimpleName() + "::" + method;
                }
            }
        }
        return owner.getSimpleName() + "::" + field;
    }

    /** The field that the accessor names when there is a field of exactly the method's name. */
    public String property() {
        return method;
    }

    /** The field that the accessor names by the bean convention, or the method's own name. */
    public String beanProperty() {
        if (method.startsWith("get") && method.length() > 3) {
            return decapitalize(method.substring(3));
        }
        if (method.startsWith("is") && method.length() > 2) {
            return decapitalize(method.substring(2));
        }
        return method;
    }

    /** Bean convention: {@code getImo} names {@code imo}, {@code getETA} names {@code ETA}. */
    private static String decapitalize(String name) {
        boolean acronym =
                name.length() > 1 && Character.isUpperCase(name.charAt(0)) && Character.isUpperCase(name.charAt(1));
        return acronym ? name : Character.toLowerCase(name.charAt(0)) + name.substring(1);
    }

    @Override
    public String toString() {
        return owner.getSimpleName() + "::" + method;
    }

    private static Accessor resolve(Attr<?, ?> attr) {
        SerializedLambda lambda = Capture.of(attr);
        if (lambda == null) {
            refuseUntold(attr.getClass().getName() + " is not known as one that refers to attributes", null);
            throw new BathraException(attr.getClass().getName() + " is not a method reference; write one, such as"
                    + " Vessel::name, where an attribute is asked for");
        }
        if (lambda.getCapturedArgCount() > 0) {
            throw new BathraException(
                    "an attribute is named by its class (Vessel::name), but here a particular object is"
                            + " captured by " + lambda.getCapturingClass().replace('/', '.'));
        }
        boolean method = lambda.getImplMethodKind() == MethodHandleInfo.REF_invokeVirtual
                || lambda.getImplMethodKind() == MethodHandleInfo.REF_invokeInterface
                || lambda.getImplMethodKind() == MethodHandleInfo.REF_invokeSpecial;
        if (!method || lambda.getImplMethodName().startsWith("lambda$")) {
            throw new BathraException(
                    "an attribute named in " + lambda.getCapturingClass().replace('/', '.')
                            + " is not a plain method reference. Write Vessel::name, not v -> v.name(). The compiler also makes a"
                            + " lambda of a reference to an accessor that is protected, has variable arguments, or is inherited"
                            + " from a package-private class of another package: make that accessor public and plain");
        }
        ClassLoader loader = attr.getClass().getClassLoader();
        try {
            Class<?> owner = MethodType.fromMethodDescriptorString(lambda.getInstantiatedMethodType(), loader)
                    .parameterType(0);
            return new Accessor(owner, lambda.getImplMethodName());
        } catch (TypeNotPresentException e) {
            refuseUntold("the class " + e.typeName() + " is not known", e);
            throw e;
        }
    }

    /** A native image knows only what its builder was told. */
    private static void refuseUntold(String what, @Nullable Throwable cause) {
        if (NativeImage.HERE) {
            throw new BathraException(
                    "in this native image " + what + "; write hints with `bathra native`, and build it anew", cause);
        }
    }

    /**
     * Serialization offers the lambda's form to {@code replaceObject}, which needs no opened package; calling the
     * lambda's private {@code writeReplace} reflectively would.
     */
    private static final class Capture extends ObjectOutputStream {
        private @Nullable SerializedLambda found;

        private Capture() throws IOException {
            super(OutputStream.nullOutputStream());
            enableReplaceObject(true);
        }

        static @Nullable SerializedLambda of(Attr<?, ?> attr) {
            try (Capture capture = new Capture()) {
                capture.writeObject(attr);
                return capture.found;
            } catch (IOException e) {
                throw new UncheckedIOException("an attribute cannot be resolved: " + attr.getClass(), e);
            }
        }

        @Override
        protected @Nullable Object replaceObject(Object object) {
            if (object instanceof SerializedLambda lambda) {
                found = lambda;
                return null; // enough is known; what the lambda captured need not be serializable
            }
            return object;
        }
    }
}
