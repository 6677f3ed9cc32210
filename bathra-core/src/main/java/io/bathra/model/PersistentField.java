package io.bathra.model;

import io.bathra.link.Later;
import io.bathra.link.Link;
import io.bathra.link.Links;
import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.Type;
import java.lang.reflect.TypeVariable;
import java.lang.reflect.WildcardType;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * A field that convention takes for persistent, with the types that the entity class gives to the type variables of its
 * superclasses.
 *
 * @param field the field
 * @param type its class
 * @param element for holders, the class at the other end; null when it cannot be told
 */
record PersistentField(Field field, Class<?> type, @Nullable Class<?> element) {
    /** The field tells; written here, since linking what a record does by itself takes a program that starts 50 ms. */
    @Override
    public boolean equals(@Nullable Object other) {
        return other instanceof PersistentField that && field.equals(that.field);
    }

    @Override
    public int hashCode() {
        return field.hashCode();
    }

    /** The persistent fields of a class, those of its superclasses first. */
    static List<PersistentField> of(Class<?> entity) {
        List<Class<?>> lineage = new ArrayList<>();
        Map<TypeVariable<?>, Type> bindings = new HashMap<>();
        for (Class<?> c = entity; c != null && c != Object.class; c = c.getSuperclass()) {
            lineage.add(0, c);
            if (c.getGenericSuperclass() instanceof ParameterizedType parent) {
                TypeVariable<?>[] variables = c.getSuperclass().getTypeParameters();
                for (int i = 0; i < variables.length; i++) {
                    bindings.put(variables[i], parent.getActualTypeArguments()[i]);
                }
            }
        }
        List<PersistentField> fields = new ArrayList<>();
        for (Class<?> c : lineage) {
            for (Field field : c.getDeclaredFields()) {
                int modifiers = field.getModifiers();
                if (!Modifier.isStatic(modifiers) && !Modifier.isTransient(modifiers) && !field.isSynthetic()) {
                    fields.add(of(field, bindings));
                }
            }
        }
        return fields;
    }

    private static PersistentField of(Field field, Map<TypeVariable<?>, Type> bindings) {
        Class<?> type = raw(field.getGenericType(), bindings);
        Class<?> element = null;
        if ((type == Link.class || type == Links.class || type == Later.class)
                && field.getGenericType() instanceof ParameterizedType parameterized) {
            element = raw(parameterized.getActualTypeArguments()[0], bindings);
        }
        return new PersistentField(field, type == null ? field.getType() : type, element);
    }

    private static @Nullable Class<?> raw(Type type, Map<TypeVariable<?>, Type> bindings) {
        if (type instanceof Class<?> c) {
            return c;
        }
        if (type instanceof ParameterizedType parameterized) {
            return (Class<?>) parameterized.getRawType();
        }
        if (type instanceof TypeVariable<?> variable) {
            Type bound = bindings.get(variable);
            return bound == null ? null : raw(bound, bindings);
        }
        return type instanceof WildcardType wildcard ? raw(wildcard.getUpperBounds()[0], bindings) : null;
    }

    String name() {
        return field.getName();
    }

    boolean isLink() {
        return type == Link.class;
    }

    boolean isLinks() {
        return type == Links.class;
    }

    boolean isLater() {
        return type == Later.class;
    }

    boolean isAssociation() {
        return isLink() || isLinks();
    }

    /** What holds something else, so that it is never replaced. */
    boolean isHolder() {
        return isAssociation() || isLater();
    }

    /** A collection whose elements are parts. */
    boolean isCollection() {
        return type == List.class || type == Set.class || type == Map.class;
    }

    /** The first type argument of the field. */
    Type argument() {
        return field.getGenericType() instanceof ParameterizedType parameterized
                ? parameterized.getActualTypeArguments()[0]
                : Object.class;
    }

    /** The type arguments of the field, as classes; null for those that are none. */
    List<@Nullable Class<?>> arguments() {
        List<@Nullable Class<?>> arguments = new ArrayList<>();
        if (field.getGenericType() instanceof ParameterizedType parameterized) {
            for (Type argument : parameterized.getActualTypeArguments()) {
                arguments.add(raw(argument, Map.of()));
            }
        }
        return arguments;
    }

    boolean isFinal() {
        return Modifier.isFinal(field.getModifiers());
    }
}
