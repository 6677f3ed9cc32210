package io.bathra.error;

import io.bathra.sql.Place;

/** A link to a row that is not there, or the removal of a row that others still link to. */
public final class ForeignKeyViolation extends ConstraintViolation {
    /**
     * Made by the library, where it happens.
     *
     * @param place where the constraint lies
     * @param sql the statement
     * @param cause what was behind it; null for nothing
     */
    public ForeignKeyViolation(Place place, String sql, Throwable cause) {
        super(
                "a link would lead nowhere: " + place
                        + "; store the target first, or remove the rows that link to it first",
                place,
                sql,
                cause);
    }
}
