package io.bathra;

import java.util.Objects;
import java.util.regex.Pattern;

/**
 * How far a database had come when something was committed. A standby that has come as far shows it. It travels between
 * programs as a text, in a cookie or a header say.
 *
 * @see FlushReport#position
 * @see Terms#notBefore
 */
public final class Position {
    private static final Pattern FORM = Pattern.compile(
            "wal-[0-9A-F]{1,8}/[0-9A-F]{1,8}|gtid-\\d{1,10}-\\d{1,10}-\\d{1,20}(,\\d{1,10}-\\d{1,10}-\\d{1,20})*");

    private final String text;

    private Position(String text) {
        this.text = text;
    }

    /**
     * {@return a position from its text}
     *
     * @param text the text
     * @throws IllegalArgumentException when it is none
     */
    public static Position parse(String text) {
        Objects.requireNonNull(text, "text");
        if (!FORM.matcher(text).matches()) {
            throw new IllegalArgumentException("'" + text
                    + "' is no position; give the text of one that a commit has told, such as wal-0/16B3748");
        }
        return new Position(text);
    }

    /** Its text. */
    @Override
    public String toString() {
        return text;
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Position position && position.text.equals(text);
    }

    @Override
    public int hashCode() {
        return text.hashCode();
    }
}
