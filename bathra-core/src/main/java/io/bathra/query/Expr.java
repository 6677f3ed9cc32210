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

    /**
     * {@return the condition that it is this value}
     *
     * @param value the value
     */
    public Condition<E> is(V value) {
        return compare(Operator.IS, value, "isNull()");
    }

    /**
     * {@return the same with another value of the row, or a parameter}
     *
     * @param other the other one
     */
    public Condition<E> is(Expr<? super E, V> other) {
        return compare(Operator.IS, other);
    }

    /**
     * Different from the value. As in SQL, an attribute without a value fulfils neither this nor {@code is}.
     *
     * @param value the value
     * @return the condition
     */
    public Condition<E> isNot(V value) {
        return compare(Operator.IS_NOT, value, "isNotNull()");
    }

    /**
     * {@return the same with another value of the row, or a parameter}
     *
     * @param other the other one
     */
    public Condition<E> isNot(Expr<? super E, V> other) {
        return compare(Operator.IS_NOT, other);
    }

    /**
     * {@return the condition that it is above the value}
     *
     * @param value the value
     */
    public Condition<E> above(V value) {
        return compare(Operator.ABOVE, value, "isNotNull()");
    }

    /**
     * {@return the same with another value of the row, or a parameter}
     *
     * @param other the other one
     */
    public Condition<E> above(Expr<? super E, V> other) {
        return compare(Operator.ABOVE, other);
    }

    /**
     * {@return the condition that it is the value or above}
     *
     * @param value the value
     */
    public Condition<E> atLeast(V value) {
        return compare(Operator.AT_LEAST, value, "isNotNull()");
    }

    /**
     * {@return the same with another value of the row, or a parameter}
     *
     * @param other the other one
     */
    public Condition<E> atLeast(Expr<? super E, V> other) {
        return compare(Operator.AT_LEAST, other);
    }

    /**
     * {@return the condition that it is below the value}
     *
     * @param value the value
     */
    public Condition<E> below(V value) {
        return compare(Operator.BELOW, value, "isNotNull()");
    }

    /**
     * {@return the same with another value of the row, or a parameter}
     *
     * @param other the other one
     */
    public Condition<E> below(Expr<? super E, V> other) {
        return compare(Operator.BELOW, other);
    }

    /**
     * {@return the condition that it is the value or below}
     *
     * @param value the value
     */
    public Condition<E> atMost(V value) {
        return compare(Operator.AT_MOST, value, "isNotNull()");
    }

    /**
     * {@return the same with another value of the row, or a parameter}
     *
     * @param other the other one
     */
    public Condition<E> atMost(Expr<? super E, V> other) {
        return compare(Operator.AT_MOST, other);
    }

    /**
     * At least {@code low} and at most {@code high}, both included.
     *
     * @param low the least, included
     * @param high the greatest, included
     * @return the condition
     */
    public Condition<E> between(V low, V high) {
        return Ask.allOf(atLeast(low), atMost(high));
    }

    /**
     * {@return the condition that it is one of these values}
     *
     * @param values the values
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Condition<E> in(V... values) {
        return in(Arrays.asList(values));
    }

    /**
     * {@return one of the values} No values, no rows.
     *
     * @param values the values
     */
    public Condition<E> in(Collection<? extends V> values) {
        if (values.stream().anyMatch(Objects::isNull)) {
            throw new IllegalArgumentException(term + " in (...) was given null among its values; use isNull() for it");
        }
        return new Condition<>(
                new Membership(term, values.stream().map(this::operand).toList()));
    }

    /**
     * {@return one of the values that the query is given by name}
     *
     * @param values the values
     */
    public Condition<E> in(Several<? extends V> values) {
        return new Condition<>(new Membership(term, List.of(values.parameter())));
    }

    /**
     * There is no value.
     *
     * @return the condition
     */
    public Condition<E> isNull() {
        return new Condition<>(new Absence(term));
    }

    /**
     * There is a value.
     *
     * @return the condition
     */
    public Condition<E> isNotNull() {
        return new Condition<>(new Negation(isNull().meaning()));
    }

    /**
     * {@return the value, or another one where it is missing}
     *
     * @param instead what is taken where there is none
     */
    public Expr<E, V> orElse(V instead) {
        return new Expr<>(coalesce(operand(instead)));
    }

    /**
     * {@return the value, or that of another attribute where it is missing}
     *
     * @param instead what is taken where there is none
     */
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

    /**
     * {@return what an attribute becomes in {@link Query#update}}
     *
     * @param value the value
     */
    public Assignment<E> to(V value) {
        if (value == null) {
            throw new IllegalArgumentException(term + " = null: use toNull() to take a value away");
        }
        return new Assignment<>(new SetClause(term, new Term.Value(value)));
    }

    /**
     * {@return what an attribute becomes in {@link Query#update}: a value made of the same row, or a parameter}
     *
     * @param value the value
     */
    public Assignment<E> to(Expr<? super E, ? extends V> value) {
        return new Assignment<>(new SetClause(term, value.term()));
    }

    /**
     * Takes an attribute's value away in {@link Query#update}.
     *
     * @return the assignment
     */
    public Assignment<E> toNull() {
        return new Assignment<>(new SetClause(term, null));
    }

    /**
     * Smallest first; rows without a value come before all others, on every database.
     *
     * @return the ordering
     */
    public Ordering<E> ascending() {
        return new Ordering<>(new SortKey(term, false, true));
    }

    /**
     * Largest first; rows without a value come last, on every database.
     *
     * @return the ordering
     */
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
