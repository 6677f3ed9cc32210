package io.bathra.bulk;

import org.jspecify.annotations.Nullable;

/**
 * Why a row was not stored.
 *
 * @param row its number in the call, counted from 1
 * @param attribute the attribute that is to blame, or several joined by {@code +}; {@code *} when nobody knows
 * @param value the value as it may be shown
 * @param reason what is wrong and what to do, in plain words
 */
public record Rejection(
        long row, String attribute, @Nullable Object value, String reason) {
    @Override
    public String toString() {
        return "row " + row + ", " + attribute + " = " + value + ": " + reason;
    }
}
