package io.bathra.error;

import io.bathra.sql.Place;

/** A value that must be unique is there already. */
public final class UniqueViolation extends ConstraintViolation {
    /**
     * Made by the library, where it happens.
     *
     * @param place where the constraint lies
     * @param sql the statement
     * @param cause what was behind it; null for nothing
     */
    public UniqueViolation(Place place, String sql, Throwable cause) {
        super(
                "a value that must be unique is there already: " + place
                        + "; choose another value, or change the row that has it",
                place,
                sql,
                cause);
    }
}
