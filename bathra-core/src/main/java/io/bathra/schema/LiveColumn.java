package io.bathra.schema;

import org.jspecify.annotations.Nullable;

/**
 * A column as a database lists it.
 *
 * @param name its name as listed
 * @param type its type's name in small letters, without size
 * @param size the size that the driver tells: characters of a text, digits of a decimal
 * @param scale the digits after the point
 * @param required whether it is NOT NULL
 * @param collation how its texts are compared; null where the database does not say
 */
public record LiveColumn(
        String name,
        String type,
        int size,
        int scale,
        boolean required,
        @Nullable String collation) {}
