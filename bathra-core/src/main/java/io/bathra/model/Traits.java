package io.bathra.model;

import org.jspecify.annotations.Nullable;

/**
 * What is particular about a column attribute.
 *
 * @param primitive whether the field cannot hold null
 * @param converter the way to the column, where the field's type is not the column's own
 * @param databaseMade the part that the database plays in its value, if any
 * @param secret whether its values are kept out of messages, traces and logs
 */
record Traits(
        boolean primitive,
        @Nullable Converter<?, ?> converter,
        @Nullable DatabaseMade databaseMade,
        boolean secret) {
    static final Traits PLAIN = new Traits(false, null, null, false);
}
