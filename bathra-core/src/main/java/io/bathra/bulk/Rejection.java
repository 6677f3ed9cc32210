package io.bathra.bulk;

import io.bathra.error.Flaw;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * Why a row was not stored.
 *
 * @param row its number in the call, counted from 1
 * @param attribute the attribute that is to blame, or several joined by {@code +}; {@code *} when nobody knows
 * @param value the value as it may be shown
 * @param flaw what is wrong with it
 */
public record Rejection(
        long row, String attribute, @Nullable Object value, Flaw flaw) {
    /** {@return what is wrong and what to do, in plain words for whoever writes the program} */
    public String reason() {
        return flaw.reason();
    }

    /**
     * Words for whoever has typed the value, without the name of the attribute: "is required".
     *
     * @param locale whose words are wanted
     * @return the words
     */
    public String words(Locale locale) {
        return flaw.words(locale);
    }

    @Override
    public String toString() {
        return "row " + row + ", " + attribute + " = " + value + ": " + reason();
    }
}
