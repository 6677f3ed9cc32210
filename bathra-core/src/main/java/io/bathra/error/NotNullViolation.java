package io.bathra.error;

import io.bathra.sql.Place;

/** A required value is missing. */
public final class NotNullViolation extends ConstraintViolation {
    /**
     * Made by the library, where it happens.
     *
     * @param place where the constraint lies
     * @param sql the statement
     * @param cause what was behind it; null for nothing
     */
    public NotNullViolation(Place place, String sql, Throwable cause) {
        super("a required value is missing: " + place + "; set it before the flush", place, sql, cause);
    }
}
