package io.bathra.question;

/**
 * What rows of two entities have in common. Immutable.
 *
 * @param left a value of the one
 * @param right the value of the other
 */
public record Match(Term left, Term right) {
    @Override
    public String toString() {
        return left + " = " + right;
    }
}
