package io.bathra.schema;

import org.jspecify.annotations.Nullable;

/**
 * A column as a database lists it.
 *
 * @param name its name as listed
 * @param type its type's name in small letters, without size
 * @param size the characters of a text, the digits of a decimal; 0 where it has no such limit
 * @param scale the digits after the point
 * @param required whether it is NOT NULL
 * @param collation how its texts are compared; null where the database does not say
 * @param drawn whether the database draws its values, from a sequence or as an identity
 * @param byDefault the expression that gives it a value where a statement gives none; null for none, and where it is
 *     drawn
 * @param computed the expression that it is always computed from; null for none
 */
public record LiveColumn(
        String name,
        String type,
        int size,
        int scale,
        boolean required,
        @Nullable String collation,
        boolean drawn,
        @Nullable String byDefault,
        @Nullable String computed) {}
