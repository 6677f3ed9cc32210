package io.bathra.bulk;

/**
 * Two rows that a pivot pairs. Each is told by an entity, by its key, or by what {@link Pairs#owners} and {@link
 * Pairs#others} say.
 *
 * @param owner the row whose {@code Links} are meant
 * @param other the row that is, or is to be, among them
 */
public record Pair(Object owner, Object other) {
    /**
     * {@return a pair}
     *
     * @param owner whose it is
     * @param other the other one
     */
    public static Pair of(Object owner, Object other) {
        return new Pair(owner, other);
    }
}
