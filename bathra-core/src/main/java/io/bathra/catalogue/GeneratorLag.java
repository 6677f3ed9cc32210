package io.bathra.catalogue;

import io.bathra.mapping.ModelEntity;
import io.bathra.model.Difference;
import org.jspecify.annotations.Nullable;

/**
 * An entity's generator that is not there, lags behind, or may do so.
 *
 * @param greatest the greatest key that is stored
 * @param next what the generator would draw next; null where that cannot be told, or there is none
 * @param difference what is wrong, in words
 */
public record GeneratorLag(
        ModelEntity<?> entity, long greatest, @Nullable Long next, Difference difference) {
    /** Whether the generator is there and known to lag behind. */
    public boolean canBeMoved() {
        return next != null;
    }
}
