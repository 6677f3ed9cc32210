package io.bathra.model;

/**
 * Something in which a database differs from what a model asks for, or may differ.
 *
 * @param place the table, or table and column
 * @param found what is there, and what should be
 * @param kind what it means
 */
public record Difference(String place, String found, Kind kind) {
    /** What a difference means. */
    public enum Kind {
        /** The database lacks something that the model asks for, or has something else in its place. */
        LACKING,
        /** The database has something that the model does not ask for. */
        BEYOND,
        /** Whether there is a difference could not be told here. */
        NOT_COMPARED
    }

    /** {@return whether the database lacks something} */
    public boolean missing() {
        return kind == Kind.LACKING;
    }

    @Override
    public String toString() {
        return place + ": " + found;
    }
}
