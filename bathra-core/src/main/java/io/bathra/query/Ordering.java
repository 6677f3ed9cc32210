package io.bathra.query;

/**
 * One term of an {@code order by}. Made by {@link Expr#ascending()} and {@link Expr#descending()}.
 *
 * @param <E> the entity that is asked about
 * @param path the attribute to order by
 * @param descending whether the largest comes first
 */
public record Ordering<E>(Path path, boolean descending) {
    @Override
    public String toString() {
        return descending ? path + " desc" : path.toString();
    }
}
