package io.bathra.query;

import io.bathra.question.SearchCondition.Absence;
import io.bathra.question.SearchCondition.Comparison;
import io.bathra.question.SearchCondition.Membership;
import io.bathra.question.SearchCondition.Negation;
import io.bathra.question.SearchCondition.Operator;
import io.bathra.question.SetClause;
import io.bathra.question.SortKey;
import io.bathra.question.Term;
import io.bathra.question.Term.Call;
import io.bathra.question.Term.Function;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Objects;

/**
 * A value in a question, and the conditions and orderings that can be made of it. Made by
 * {@link Ask#the(io.bathra.attr.Attr)}. Immutable.
 *
 * @param <E> the entity that is asked about
 * @param <V> the value's type
 */
public sealed class Expr<E, V> permits Text, Num, OnDate, AtTime, OnDateTime {
    private final Term term;

    Expr(Term term) {
        this.term = term;
    }

    /** The value as data. */
    final Term term() {
        return term;
    }

    public Condition<E> is(V value) {
        return compare(Operator.IS, value, "isNull()");
    }

    /** The same with another value of the row, or a parameter. */
    public Condition<E> is(Expr<? super E, V> other) {
        return compare(Operator.IS, other);
    }

    /** Different from the value. As in SQL, an attribute without a value fulfils neither this nor {@code is}. */
    public Condition<E> isNot(V value) {
        return compare(Operator.IS_NOT, value, "isNotNull()");
    }

    /** The same with another value of the row, or a parameter. */
    public Condition<E> isNot(Expr<? super E, V> other) {
        return compare(Operator.IS_NOT, other);
    }

    public Condition<E> above(V value) {
        return compare(Operator.ABOVE, value, "isNotNull()");
    }

    /** The same with another value of the row, or a parameter. */
    public Condition<E> above(Expr<? super E, V> other) {
        return compare(Operator.ABOVE, other);
    }

    public Condition<E> atLeast(V value) {
        return compare(Operator.AT_LEAST, value, "isNotNull()");
    }

    /** The same with another value of the row, or a parameter. */
    public Condition<E> atLeast(Expr<? super E, V> other) {
        return compare(Operator.AT_LEAST, other);
    }

    public Condition<E> below(V value) {
        return compare(Operator.BELOW, value, "isNotNull()");
    }

    /** The same with another value of the row, or a parameter. */
    public Condition<E> below(Expr<? super E, V> other) {
        return compare(Operator.BELOW, other);
    }

    public Condition<E> atMost(V value) {
        return compare(Operator.AT_MOST, value, "isNotNull()");
    }

    /** The same with another value of the row, or a parameter. */
    public Condition<E> atMost(Expr<? super E, V> other) {
        return compare(Operator.AT_MOST, other);
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
            throw new IllegalArgumentException(term + " in (...) was given null among its values; use isNull() for it");
        }
        return new Condition<>(
                new Membership(term, values.stream().map(this::operand).toList()));
    }

    /** One of the values that the query is given by name. */
    public Condition<E> in(Several<? extends V> values) {
        return new Condition<>(new Membership(term, List.of(values.parameter())));
    }

    /** There is no value. */
    public Condition<E> isNull() {
        return new Condition<>(new Absence(term));
    }

    /** There is a value. */
    public Condition<E> isNotNull() {
        return new Condition<>(new Negation(isNull().meaning()));
    }

    /** The value, or another one where it is missing. */
    public Expr<E, V> orElse(V instead) {
        return new Expr<>(coalesce(operand(instead)));
    }

    /** The value, or that of another attribute where it is missing. */
    public Expr<E, V> orElse(Expr<? super E, V> instead) {
        return new Expr<>(coalesce(instead.term));
    }

    final Term coalesce(Term instead) {
        List<Term> arguments = new ArrayList<>();
        boolean more = term instanceof Call call && call.function() == Function.COALESCE;
        arguments.addAll(more ? ((Call) term).arguments() : List.of(term));
        arguments.add(instead);
        return new Call(Function.COALESCE, arguments);
    }

    /** What an attribute becomes in {@link Query#update}. */
    public Assignment<E> to(V value) {
        if (value == null) {
            throw new IllegalArgumentException(term + " = null: use toNull() to take a value away");
        }
        return new Assignment<>(new SetClause(term, new Term.Value(value)));
    }

    /** What an attribute becomes in {@link Query#update}: a value made of the same row, or a parameter. */
    public Assignment<E> to(Expr<? super E, ? extends V> value) {
        return new Assignment<>(new SetClause(term, value.term()));
    }

    /** Takes an attribute's value away in {@link Query#update}. */
    public Assignment<E> toNull() {
        return new Assignment<>(new SetClause(term, null));
    }

    /** Smallest first; rows without a value come before all others, on every database. */
    public Ordering<E> ascending() {
        return new Ordering<>(new SortKey(term, false, true));
    }

    /** Largest first; rows without a value come last, on every database. */
    public Ordering<E> descending() {
        return new Ordering<>(new SortKey(term, true, false));
    }

    /** A value to compare with. */
    Term operand(V value) {
        return new Term.Value(value);
    }

    private Condition<E> compare(Operator operator, V value, String instead) {
        if (value == null) {
            throw new IllegalArgumentException(term + " " + operator.sql() + " null is never true; use " + instead);
        }
        return new Condition<>(new Comparison(term, operator, operand(value)));
    }

    Condition<E> compare(Operator operator, Expr<?, V> other) {
        return new Condition<>(new Comparison(term, operator, other.term));
    }

    @Override
    public String toString() {
        return term.toString();
    }
}
