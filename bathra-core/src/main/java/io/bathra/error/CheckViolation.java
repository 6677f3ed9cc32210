package io.bathra.error;

import io.bathra.sql.Place;

/** A value that a check of the database refuses. */
public final class CheckViolation extends ConstraintViolation {
    /**
     * Made by the library, where it happens.
     *
     * @param place where the constraint lies
     * @param sql the statement
     * @param cause what was behind it; null for nothing
     */
    public CheckViolation(Place place, String sql, Throwable cause) {
        super("a check of the database refuses the value: " + place, place, sql, cause);
    }
}
