package io.bathra.error;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** A constraint of the database refused a row. */
public abstract sealed class ConstraintViolation extends StatementException
        permits UniqueViolation, ForeignKeyViolation, NotNullViolation, CheckViolation {
    /** Where the constraint lies. */
    private final Place place;

    ConstraintViolation(String message, Place place, String sql, Throwable cause) {
        super(message, sql, cause);
        this.place = place;
    }

    /**
     * Where a constraint was violated, as far as the server tells.
     *
     * @param entity the entity's name, or null
     * @param attributes the attributes, empty when unknown
     * @param value the offending value or values in the server's words, or null
     * @param constraint the constraint's name, or null
     */
    public record Place(
            @Nullable String entity,
            List<String> attributes,
            @Nullable String value,
            @Nullable String constraint) {
        /**
         * Checks what it is made of, and copies what could be changed.
         *
         * @param entity the entity's name, or null
         * @param attributes the attributes, empty when unknown
         * @param value the offending value or values in the server's words, or null
         * @param constraint the constraint's name, or null
         */
        public Place {
            attributes = List.copyOf(attributes);
        }

        @Override
        public String toString() {
            String where = entity == null ? "a table" : entity;
            String which = attributes.isEmpty() ? "" : "." + String.join("+", attributes);
            return where
                    + which
                    + (value == null ? "" : " = " + value)
                    + (constraint == null ? "" : " (constraint " + constraint + ")");
        }
    }

    /** {@return where it happened} */
    public Place place() {
        return place;
    }
}
