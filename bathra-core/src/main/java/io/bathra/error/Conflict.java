package io.bathra.error;

import org.jspecify.annotations.Nullable;

/**
 * An attribute that somebody else has changed since this unit read it, or a row that is gone.
 *
 * @param row the row in words: {@code Vessel 7}
 * @param attribute the attribute; null when the whole row is gone
 * @param read what this unit has read
 * @param mine what this unit wants to store
 * @param theirs what is there now
 */
public record Conflict(
        String row,
        @Nullable String attribute,
        @Nullable Object read,
        @Nullable Object mine,
        @Nullable Object theirs) {
    @Override
    public String toString() {
        return attribute == null
                ? row + " (removed by somebody else)"
                : row + "." + attribute + " (read " + read + ", wanted " + mine + ", there is " + theirs + ")";
    }
}
