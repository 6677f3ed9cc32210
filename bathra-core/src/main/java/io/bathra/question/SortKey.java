package io.bathra.question;

/**
 * One term of an {@code order by}. Immutable.
 *
 * @param term what to order by
 * @param descending whether the largest comes first
 * @param nullsFirst whether rows without a value come before all others
 */
public record SortKey(Term term, boolean descending, boolean nullsFirst) {
    @Override
    public String toString() {
        return Words.WITHOUT_VALUES.of(this);
    }
}
