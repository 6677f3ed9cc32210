package io.bathra.question;

import org.jspecify.annotations.Nullable;

/**
 * What an attribute of all rows that a query finds becomes. Immutable.
 *
 * @param target the attribute
 * @param value what it becomes; null takes its value away
 */
public record SetClause(Term target, @Nullable Term value) {
    @Override
    public String toString() {
        return target + " = " + (value == null ? "null" : value);
    }
}
