package io.bathra.cli.image;

import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import java.lang.reflect.Field;
import java.lang.reflect.GenericArrayType;
import java.lang.reflect.Modifier;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.Type;
import java.lang.reflect.WildcardType;
import java.util.Comparator;
import java.util.SortedSet;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/** The classes whose fields a model may read and write: entities, and whatever their fields hold. */
final class Held {
    private final SortedSet<Class<?>> classes = new TreeSet<>(Comparator.comparing(Class::getName));

    private Held() {}

    /** The classes of a model. */
    static SortedSet<Class<?>> by(Model model) {
        Held held = new Held();
        for (EntityOutline entity : model.entities()) {
            if (entity.kind() == EntityOutline.Kind.ENTITY || entity.kind() == EntityOutline.Kind.VIEW) {
                held.add(entity.type());
            }
        }
        return held.classes;
    }

    private void look(Type type) {
        if (type instanceof Class<?> plain) {
            if (plain.isArray()) {
                look(plain.getComponentType());
            } else {
                add(plain);
            }
        } else if (type instanceof ParameterizedType parameterized) {
            look(parameterized.getRawType());
            for (Type argument : parameterized.getActualTypeArguments()) {
                look(argument);
            }
        } else if (type instanceof WildcardType wildcard) {
            for (Type bound : wildcard.getUpperBounds()) {
                look(bound);
            }
        } else if (type instanceof GenericArrayType array) {
            look(array.getGenericComponentType());
        }
    }

    private void add(@Nullable Class<?> type) {
        if (type == null || !isOfTheProgram(type) || !classes.add(type)) {
            return;
        }
        add(type.getSuperclass());
        for (Field field : type.getDeclaredFields()) {
            if (!Modifier.isStatic(field.getModifiers())) {
                look(field.getGenericType());
            }
        }
    }

    /** Whether it is a class with fields, neither the JDK's nor a holder of ours. */
    private static boolean isOfTheProgram(Class<?> type) {
        return !type.isPrimitive()
                && !type.isInterface()
                && !type.isEnum()
                && type.getClassLoader() != null
                && type.getClassLoader() != ClassLoader.getPlatformClassLoader()
                && !type.getPackageName().equals("io.bathra.link");
    }
}
