package io.bathra.mapping;

import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import java.math.BigDecimal;
import org.jspecify.annotations.Nullable;

/** Tells why a column does not keep a value as it is. */
final class Misfit {
    /** More digits than any column keeps; to send them could take minutes and gigabytes. */
    private static final long MOST_DIGITS = 10_000;

    private static final String NO_CHARACTER =
            "is the character NUL, with which Java begins and which stands for no value; use null instead";

    private Misfit() {}

    /** What is wrong with a value for a column, and what to do; null when it fits. */
    static @Nullable Flaw of(ColumnType type, Object value, Years years) {
        if (value instanceof String text) {
            if (type.length() > 0 && text.length() > type.length()) {
                return Flaw.of(
                        Code.TOO_LONG,
                        "is " + text.length() + " long, but the column keeps " + type.length()
                                + "; shorten it, or declare a greater length(...)",
                        type.length());
            }
            return unsuitable(ofText(text));
        } else if (value instanceof Character character) {
            return unsuitable(ofCharacter(character));
        } else if (value instanceof Double || value instanceof Float) {
            if (!Double.isFinite(((Number) value).doubleValue())) {
                return Flaw.of(
                        Code.NOT_FINITE,
                        "is no finite number, which not every database keeps; leave it empty, or store another one");
            }
        } else if (value instanceof BigDecimal decimal) {
            boolean tooLarge = Cut.wholeDigits(decimal) > type.precision() - type.scale();
            if (decimal.signum() != 0 && (tooLarge || Cut.needsMoreThan(type.scale(), decimal))) {
                return Flaw.of(
                        Code.TOO_MANY_DIGITS,
                        "does not fit into digits(" + type.precision() + ", " + type.scale()
                                + "); round it, or declare more digits(...)",
                        type.precision() - type.scale(),
                        type.scale());
            }
        }
        String wrong = years.misfit(value);
        return wrong == null
                ? null
                : Flaw.of(
                        Code.YEAR_OUT_OF_RANGE,
                        wrong + "; store another value, or none for what has no end",
                        years.first(),
                        years.last());
    }

    private static @Nullable Flaw unsuitable(@Nullable String reason) {
        return reason == null ? null : Flaw.of(Code.UNSUITABLE_CHARACTER, reason);
    }

    private static @Nullable String ofText(String text) {
        if (text.indexOf('\0') >= 0) {
            return "contains the character NUL, which no text column keeps on every database; take it out";
        }
        return hasLoneSurrogate(text)
                ? "contains half of a character, a surrogate without its other half, which no database keeps;"
                        + " take it out, or cut the text between characters"
                : null;
    }

    private static @Nullable String ofCharacter(char character) {
        if (character == '\0') {
            return NO_CHARACTER;
        }
        return Character.isSurrogate(character)
                ? "is half of a character, a surrogate without its other half, which no database keeps; store a text"
                : null;
    }

    private static boolean hasLoneSurrogate(String text) {
        for (int i = 0; i < text.length(); i++) {
            if (Character.isSurrogate(text.charAt(i))) {
                boolean pair = i + 1 < text.length() && Character.isSurrogatePair(text.charAt(i), text.charAt(i + 1));
                if (!pair) {
                    return true;
                }
                i++;
            }
        }
        return false;
    }

    /** What is wrong with a value for any column and any comparison; null when nothing is. */
    static @Nullable String anywhere(Object value) {
        if (value instanceof String text) {
            return ofText(text);
        } else if (value instanceof Character character) {
            return ofCharacter(character);
        }
        boolean endless = value instanceof BigDecimal decimal
                && (decimal.precision() > MOST_DIGITS || Math.abs((long) decimal.scale()) > MOST_DIGITS);
        return endless ? "has more than " + MOST_DIGITS + " digits, which no column keeps" : null;
    }
}
