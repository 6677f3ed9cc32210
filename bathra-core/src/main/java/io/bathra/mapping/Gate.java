package io.bathra.mapping;

import io.bathra.attr.Converter;
import io.bathra.attr.Secret;
import io.bathra.error.BathraException;
import io.bathra.error.Flaw;
import java.lang.invoke.MethodHandle;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Where each value passes on its way to a column and back: it is converted, cut to what the column keeps, checked, and
 * hidden if it is secret. Nothing else does any of this, so that what is stored, compared and read is the same.
 *
 * <p>A value of the user's becomes one in <em>stored form</em>, of the column's own class, and a {@link Secret} where
 * it is secret; cut, that is what rows, keys and statements hold.
 */
public final class Gate {
    private final String place;
    private final ColumnType type;
    private final @Nullable Converter<?, ?> converter;
    private final boolean secret;
    private final boolean json;
    private final Cut cut;

    private Gate(String place, ColumnType type, @Nullable Converter<?, ?> converter, boolean secret, boolean json) {
        this.place = place;
        this.type = type;
        this.converter = converter;
        this.secret = secret;
        this.json = json;
        this.cut = new Cut(type);
    }

    /**
     * The gate of a column.
     *
     * @param place what messages call it
     * @param converter what turns a value of the user's into one of the column; null for none
     * @param secret whether its values are kept out of messages, traces and logs
     */
    public static Gate of(String place, ColumnType type, @Nullable Converter<?, ?> converter, boolean secret) {
        return new Gate(place, type, converter, secret, false);
    }

    /** The gate of something that no converter stands in front of. */
    public static Gate of(String place, ColumnType type) {
        return new Gate(place, type, null, false, false);
    }

    /** One for what is computed from values of this column, as secret as they are. */
    public Gate computed(String otherPlace, ColumnType otherType) {
        return new Gate(otherPlace, otherType, null, secret, false);
    }

    /** The same, where the text that the column keeps is JSON. */
    public Gate ofJson() {
        return new Gate(place, type, converter, secret, true);
    }

    /** Whether the text that the column keeps is JSON. */
    public boolean isJson() {
        return json;
    }

    /** What the column keeps. */
    public ColumnType type() {
        return type;
    }

    /** Whether what passes is kept out of messages, traces and logs. */
    public boolean isSecret() {
        return secret;
    }

    /** Whether a converter of the user's stands here. */
    boolean isConverted() {
        return converter != null;
    }

    /** Whether a value that was read is the user's as it is. */
    public boolean isPlain() {
        return converter == null && !secret;
    }

    /** Whether what the user has is what the column keeps, and can only be changed by another value. */
    boolean isOpen() {
        return converter == null && !secret && type.kind() != ColumnType.Kind.BYTES;
    }

    // ---- in

    /**
     * The stored form of a value of the user's, not cut yet.
     *
     * @throws BathraException when the converter refuses it
     */
    public Object stored(Object value) {
        if (converter == null) {
            return hidden(value);
        }
        return like(value, converted("the value", value, converter::toStored));
    }

    /** What the column keeps of a value in stored form. */
    public @Nullable Object kept(@Nullable Object stored) {
        if (stored == null) {
            return null;
        }
        return stored instanceof Secret ? Secret.of(cut.kept(opened(stored))) : cut.kept(stored);
    }

    /**
     * The stored form of a value that is given without a type, widened where nothing is lost by it; not cut yet.
     *
     * @throws BathraException when the converter refuses it
     */
    public Object taken(Object value) {
        Object stored = stored(value);
        return like(stored, cut.widened(opened(stored)));
    }

    /** What is wrong with the class of a value in stored form; null when nothing is. */
    public @Nullable String mismatch(Object stored) {
        Object open = opened(stored);
        return cut.takes(open)
                ? null
                : "is a " + open.getClass().getSimpleName() + ", but the column keeps a "
                        + type.javaType().getSimpleName();
    }

    /**
     * What the column would keep of a value that is compared with its own. A decimal is left as exact as it is, and so
     * is what the column could not keep.
     *
     * @throws BathraException when nothing could be compared with it
     */
    public Object compared(Object value) {
        return comparable(taken(value));
    }

    /**
     * The same, for a database that keeps dates of these years.
     *
     * @throws BathraException when nothing could be compared with it
     */
    public Object compared(Object value, Years years) {
        Object compared = compared(value);
        String wrong = years.misfit(opened(compared));
        if (wrong != null) {
            throw incomparableWith(wrong + "; compare with one of these, or leave the condition out");
        }
        return compared;
    }

    /** Why nothing can be compared with a value in stored form; null where something can. */
    public @Nullable String incomparable(Object stored) {
        return Misfit.anywhere(opened(stored));
    }

    /** The same of a value in stored form already. */
    Object comparable(Object stored) {
        Object open = opened(stored);
        String wrong = incomparable(open);
        if (wrong != null) {
            throw incomparableWith(wrong);
        }
        if (type.kind() == ColumnType.Kind.DECIMAL || !cut.takes(open)) {
            return stored;
        }
        Object kept = kept(stored);
        return kept == null ? stored : kept;
    }

    /**
     * What the mark of a page holds, which is a value that was read; anybody may have changed it meanwhile.
     *
     * @throws BathraException when it can be no such value
     */
    public Object marked(Object raw) {
        return hidden(comparable(raw));
    }

    /** A key that is given in stored form, or as the user has it; widened, cut, or left alone where it is neither. */
    Object key(Object given) {
        Object widened = cut.widened(given);
        if (cut.takes(widened)) {
            return comparable(widened);
        }
        if (converter == null) {
            return widened;
        }
        try {
            return comparable(stored(given));
        } catch (BathraException e) {
            return given;
        }
    }

    /** Why the column does not keep a value in stored form, and what to do; null when it does. */
    public @Nullable Flaw misfit(Object stored, Years years) {
        return Misfit.of(type, opened(stored), years);
    }

    // ---- out

    /** What was read, as the column keeps it. */
    public @Nullable Object read(@Nullable Object raw) {
        Object kept = raw != null && type.kind() == ColumnType.Kind.DECIMAL ? cut.kept(raw) : raw;
        return kept == null ? null : hidden(kept);
    }

    /**
     * The user's value of one in stored form.
     *
     * @throws BathraException when the converter refuses it
     */
    public Object user(Object stored) {
        return converter == null ? opened(stored) : converted("the column's value", stored, converter::fromStored);
    }

    /** A value as it may stand in a message. */
    public Object shown(Object value) {
        return secret ? hidden(value).toString() : value;
    }

    /** Whether what the column keeps is what it would keep of another value in stored form. */
    public boolean same(@Nullable Object kept, @Nullable Object stored) {
        return cut.same(Secret.open(kept), Secret.open(stored));
    }

    /** What compares the field that a handle reads with a kept value; the gate must be open. */
    MethodHandle comparison(MethodHandle getter) {
        return Handles.comparison(cut, getter);
    }

    private BathraException incomparableWith(String wrong) {
        return new BathraException("the value that " + place + " is compared with " + wrong);
    }

    private Object hidden(Object value) {
        return secret ? Secret.hide(value) : value;
    }

    private static Object opened(Object value) {
        return value instanceof Secret secret ? secret.open() : value;
    }

    /** A secret where the column's values are, or where the user has said so. */
    private Object like(Object before, Object now) {
        return secret || before instanceof Secret ? Secret.hide(now) : now;
    }

    private Object converted(String what, Object value, UnaryOperator<Object> conversion) {
        try {
            return conversion.apply(opened(value));
        } catch (RuntimeException e) {
            throw unconvertible(place, what, hidden(value), e);
        }
    }

    @Override
    public boolean equals(@Nullable Object other) {
        return other instanceof Gate that
                && place.equals(that.place)
                && type.equals(that.type)
                && converter == that.converter
                && secret == that.secret;
    }

    @Override
    public int hashCode() {
        return 31 * place.hashCode() + type.hashCode();
    }

    /** What messages call it. */
    @Override
    public String toString() {
        return place;
    }

    /** A converter may put the value into its own words, and into a cause. */
    static BathraException unconvertible(String place, String what, Object shown, RuntimeException e) {
        boolean secret = shown instanceof Secret;
        return new BathraException(
                place + ": " + what + " " + shown + " cannot be converted: "
                        + (secret ? "it is secret" : e.getMessage()),
                secret ? null : e);
    }
}
