package io.bathra.catalogue;

import io.bathra.mapping.ModelEntity;
import io.bathra.model.Difference;

/**
 * An entity's generator that is not there, lags behind, or may do so.
 *
 * @param greatest the greatest key that is stored
 * @param next what the generator would draw next; 0 where that cannot be told
 * @param difference what is wrong, in words
 */
public record GeneratorLag(ModelEntity<?> entity, long greatest, long next, Difference difference) {
    /** Whether the generator is there and known to lag behind. */
    public boolean canBeMoved() {
        return next != 0;
    }
}
