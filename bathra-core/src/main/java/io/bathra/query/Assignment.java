package io.bathra.query;

import org.jspecify.annotations.Nullable;

/**
 * What an attribute of all rows that a query finds becomes. Made by {@link Expr#to(Object)}. Immutable.
 *
 * @param <E> the entity that is changed
 * @param target the attribute
 * @param value what it becomes; null takes its value away
 */
public record Assignment<E>(Term target, @Nullable Term value) {
    @Override
    public String toString() {
        return target + " = " + (value == null ? "null" : value);
    }
}
