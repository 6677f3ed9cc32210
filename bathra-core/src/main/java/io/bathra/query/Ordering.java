package io.bathra.query;

import io.bathra.question.SortKey;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * One term of an {@code order by}. Made by {@link Expr#ascending()} and {@link Expr#descending()}. Immutable.
 *
 * @param <E> the entity that is asked about
 */
public final class Ordering<E> {
    static {
        Door.leave();
    }

    private final SortKey key;

    Ordering(SortKey key) {
        this.key = key;
    }

    /** {@return the same with rows without a value before all others} */
    public Ordering<E> nullsFirst() {
        return new Ordering<>(new SortKey(key.term(), key.descending(), true));
    }

    /** {@return the same with rows without a value behind all others} */
    public Ordering<E> nullsLast() {
        return new Ordering<>(new SortKey(key.term(), key.descending(), false));
    }

    SortKey key() {
        return key;
    }

    static List<SortKey> keys(Ordering<?>... orderings) {
        List<SortKey> keys = new ArrayList<>(orderings.length);
        for (Ordering<?> ordering : orderings) {
            keys.add(ordering.key);
        }
        return keys;
    }

    @Override
    public boolean equals(@Nullable Object other) {
        return other instanceof Ordering<?> that && key.equals(that.key);
    }

    @Override
    public int hashCode() {
        return key.hashCode();
    }

    @Override
    public String toString() {
        return key.toString();
    }
}
