package io.bathra.mapping;

import org.jspecify.annotations.Nullable;

/**
 * What is particular about a column attribute.
 *
 * @param primitive whether the field cannot hold null
 * @param codec what takes an inlined value apart; null for any other
 * @param databaseMade the part that the database plays in its value, if any
 * @param secret whether its values are kept out of messages, traces and logs
 * @param deferrable whether its unique constraints may be checked late
 * @param later where the value is read on request: the way to its holder
 */
public record Traits(
        boolean primitive,
        @Nullable InlineCodec codec,
        @Nullable DatabaseMade databaseMade,
        boolean secret,
        boolean deferrable,
        @Nullable FieldAccess later) {
    public static final Traits PLAIN = new Traits(false, null, null, false, false, null);

    /** An inlined value. */
    public static Traits inline(InlineCodec codec, boolean secret) {
        return new Traits(false, codec, null, secret, false, null);
    }
}
