package io.bathra.query;

import io.bathra.query.Condition.Absence;
import io.bathra.query.Condition.Comparison;
import io.bathra.query.Condition.Match;
import io.bathra.query.Condition.Membership;
import io.bathra.query.Condition.Negation;
import io.bathra.query.Condition.Operator;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Objects;

/**
 * An attribute in a question, and the conditions and orderings that can be made of it. Made by
 * {@link Ask#the(io.bathra.attr.Attr)}. Immutable.
 *
 * @param <E> the entity that is asked about
 * @param <V> the attribute's type
 */
public sealed class Expr<E, V> permits Text {
    private final Path path;

    Expr(Path path) {
        this.path = path;
    }

    /** The way to the attribute. */
    public Path path() {
        return path;
    }

    public Condition<E> is(V value) {
        return compare(Operator.IS, value, "isMissing()");
    }

    /** Different from the value. As in SQL, an attribute without a value fulfils neither this nor {@code is}. */
    public Condition<E> isNot(V value) {
        return compare(Operator.IS_NOT, value, "isPresent()");
    }

    public Condition<E> above(V value) {
        return compare(Operator.ABOVE, value, "isPresent()");
    }

    /** The same with another attribute of the entity. */
    public Condition<E> above(Expr<E, V> other) {
        return new Match<>(path, Operator.ABOVE, other.path());
    }

    public Condition<E> atLeast(V value) {
        return compare(Operator.AT_LEAST, value, "isPresent()");
    }

    /** The same with another attribute of the entity. */
    public Condition<E> atLeast(Expr<E, V> other) {
        return new Match<>(path, Operator.AT_LEAST, other.path());
    }

    public Condition<E> below(V value) {
        return compare(Operator.BELOW, value, "isPresent()");
    }

    /** The same with another attribute of the entity. */
    public Condition<E> below(Expr<E, V> other) {
        return new Match<>(path, Operator.BELOW, other.path());
    }

    public Condition<E> atMost(V value) {
        return compare(Operator.AT_MOST, value, "isPresent()");
    }

    /** The same with another attribute of the entity. */
    public Condition<E> atMost(Expr<E, V> other) {
        return new Match<>(path, Operator.AT_MOST, other.path());
    }

    /** At least {@code low} and at most {@code high}, both included. */
    public Condition<E> between(V low, V high) {
        return Ask.allOf(atLeast(low), atMost(high));
    }

    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Condition<E> in(V... values) {
        return in(Arrays.asList(values));
    }

    /** One of the values. No values, no rows. */
    public Condition<E> in(Collection<? extends V> values) {
        if (values.stream().anyMatch(Objects::isNull)) {
            throw new IllegalArgumentException(
                    path + " in (...) was given null among its values; use isMissing() for it");
        }
        return new Membership<>(path, List.copyOf(values));
    }

    /** The attribute has no value. */
    public Condition<E> isMissing() {
        return new Absence<>(path);
    }

    /** The attribute has a value. */
    public Condition<E> isPresent() {
        return new Negation<>(isMissing());
    }

    /** Smallest first; rows without a value come before all others, on every database. */
    public Ordering<E> ascending() {
        return new Ordering<>(path, false);
    }

    /** Largest first; rows without a value come last, on every database. */
    public Ordering<E> descending() {
        return new Ordering<>(path, true);
    }

    private Condition<E> compare(Operator operator, V value, String instead) {
        if (value == null) {
            throw new IllegalArgumentException(path + " " + operator.sql() + " null is never true; use " + instead);
        }
        return new Comparison<>(path, operator, value);
    }

    @Override
    public String toString() {
        return path.toString();
    }
}
