package io.bathra.error;

import org.jspecify.annotations.Nullable;

/**
 * One reason why a pending change cannot be stored.
 *
 * @param entity the entity and its key, or its number among the new ones: {@code Vessel 7}, {@code Vessel (new #3)}
 * @param attribute the attribute, by the name of its field
 * @param value the value that cannot be stored
 * @param reason what is wrong with it and what to do, in plain words
 */
public record Problem(
        String entity, String attribute, @Nullable Object value, String reason) {
    @Override
    public String toString() {
        return entity + "." + attribute + " = " + value + ": " + reason;
    }
}
