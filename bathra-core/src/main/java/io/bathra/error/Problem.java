package io.bathra.error;

import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * One reason why a pending change cannot be stored.
 *
 * @param entity the entity and its key, or its number among the new ones: {@code Vessel 7}, {@code Vessel (new #3)}
 * @param attribute the attribute, by the name of its field, and the way into an inlined value
 * @param value the value that cannot be stored
 * @param flaw what is wrong with it
 */
public record Problem(
        String entity, String attribute, @Nullable Object value, Flaw flaw) {
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
        return entity + "." + attribute + " = " + value + ": " + reason();
    }
}
