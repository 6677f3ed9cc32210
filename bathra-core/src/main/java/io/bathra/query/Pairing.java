package io.bathra.query;

/**
 * What rows of two entities have in common. Made by {@link Ask#matching}. Immutable.
 *
 * @param left a value of the one
 * @param right the value of the other
 */
public record Pairing<E, F>(Term left, Term right) {
    @Override
    public String toString() {
        return left + " = " + right;
    }
}
