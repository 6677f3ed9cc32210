package io.bathra.mapping;

import io.bathra.attr.Converter;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What is particular about a column attribute.
 *
 * @param primitive whether the field cannot hold null
 * @param converter the way to the column, where the field's type is not the column's own
 * @param databaseMade the part that the database plays in its value, if any
 * @param secret whether its values are kept out of messages, traces and logs
 * @param deferrable whether its unique constraints may be checked late
 * @param later where the value is read on request: the way to its holder
 */
public record Traits(
        boolean primitive,
        @Nullable Converter<?, ?> converter,
        @Nullable DatabaseMade databaseMade,
        boolean secret,
        boolean deferrable,
        @Nullable FieldAccess later) {
    public static final Traits PLAIN = new Traits(false, null, null, false, false, null);

    /** An inlined value. */
    @SuppressWarnings({"rawtypes", "unchecked"}) // what is stored is the list that the codec has made
    public static Traits inline(InlineCodec codec, boolean secret) {
        Converter<Object, List> converter = Converter.to(List.class, codec::apart, parts -> codec.whole(parts));
        return new Traits(false, converter, null, secret, false, null);
    }
}
