package io.bathra.query;

/**
 * One term of an {@code order by}. Made by {@link Expr#ascending()} and {@link Expr#descending()}. Immutable.
 *
 * @param <E> the entity that is asked about
 * @param term what to order by
 * @param descending whether the largest comes first
 * @param nullsFirst whether rows without a value come before all others
 */
public record Ordering<E>(Term term, boolean descending, boolean nullsFirst) {
    /** The same with rows without a value before all others. */
    public Ordering<E> missingFirst() {
        return new Ordering<>(term, descending, true);
    }

    /** The same with rows without a value behind all others. */
    public Ordering<E> missingLast() {
        return new Ordering<>(term, descending, false);
    }

    @Override
    public String toString() {
        String nulls = nullsFirst == descending ? nullsFirst ? " nulls first" : " nulls last" : "";
        return term + (descending ? " desc" : "") + nulls;
    }
}
