package io.bathra.attr;

import java.util.Arrays;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A value that no message, trace, log or error shows: in text it is {@code (secret)}.
 *
 * <p>Values of attributes that are declared {@code secret()} become secrets by themselves. A parameter of plain SQL is
 * made one, since no model tells what it is:
 *
 * <pre>{@code
 * store.sql("select id from account where iban = :iban").with("iban", Secret.of("DE02 1203 0000"))
 * }</pre>
 *
 * <p>Secrets are equal when their values are.
 */
public final class Secret {
    /** What stands for a secret in text. */
    private static final String WORDS = "(secret)";

    private final Object value;

    private Secret(Object value) {
        this.value = value;
    }

    /**
     * {@return a value that is not shown; one that is missing has nothing to hide, and stays null}
     *
     * @param value the value
     */
    public static @Nullable Secret of(@Nullable Object value) {
        return value == null ? null : hide(value);
    }

    /**
     * {@return a value that is there, and is not shown}
     *
     * @param value the value
     */
    public static Secret hide(Object value) {
        return value instanceof Secret secret ? secret : new Secret(value);
    }

    /** {@return the value as it is} */
    public Object open() {
        return value;
    }

    /**
     * {@return a value as it is, out of its secret if it is in one}
     *
     * @param value the value
     */
    public static @Nullable Object open(@Nullable Object value) {
        return value instanceof Secret secret ? secret.value : value;
    }

    @Override
    public boolean equals(@Nullable Object other) {
        return other instanceof Secret that && Objects.deepEquals(value, that.value);
    }

    @Override
    public int hashCode() {
        return value instanceof byte[] bytes ? Arrays.hashCode(bytes) : value.hashCode();
    }

    /** {@code (secret)}. */
    @Override
    public String toString() {
        return WORDS;
    }
}
