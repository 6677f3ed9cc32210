package io.bathra.model;

/**
 * Something in which a database differs from what a model asks for.
 *
 * @param place the table, or table and column
 * @param found what is there, and what should be
 * @param missing whether the database lacks something; false when it has more than was asked for
 */
public record Difference(String place, String found, boolean missing) {
    @Override
    public String toString() {
        return place + ": " + found;
    }
}
