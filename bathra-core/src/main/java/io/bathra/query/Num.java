package io.bathra.query;

import io.bathra.question.Term;
import io.bathra.question.Term.Aggregate;
import io.bathra.question.Term.Call;
import io.bathra.question.Term.Function;
import java.util.List;

/**
 * A number in a question. Made by {@link Ask#number(io.bathra.attr.Attr)}. Whole numbers divide to whole numbers; a
 * division by zero has no value.
 *
 * @param <E> the entity that is asked about
 * @param <V> the number's type
 */
public final class Num<E, V extends Number> extends Expr<E, V> {
    Num(Term term) {
        super(term);
    }

    /**
     * {@return the sum of both}
     *
     * @param other the other one
     */
    public Num<E, V> plus(V other) {
        return with(Function.PLUS, operand(other));
    }

    /**
     * {@return the sum of both}
     *
     * @param other the other one
     */
    public Num<E, V> plus(Expr<? super E, V> other) {
        return with(Function.PLUS, other.term());
    }

    /**
     * {@return the difference of both}
     *
     * @param other the other one
     */
    public Num<E, V> minus(V other) {
        return with(Function.MINUS, operand(other));
    }

    /**
     * {@return the difference of both}
     *
     * @param other the other one
     */
    public Num<E, V> minus(Expr<? super E, V> other) {
        return with(Function.MINUS, other.term());
    }

    /**
     * {@return the product of both}
     *
     * @param other the other one
     */
    public Num<E, V> times(V other) {
        return with(Function.TIMES, operand(other));
    }

    /**
     * {@return the product of both}
     *
     * @param other the other one
     */
    public Num<E, V> times(Expr<? super E, V> other) {
        return with(Function.TIMES, other.term());
    }

    /**
     * {@return the quotient of both}
     *
     * @param other the other one
     */
    public Num<E, V> dividedBy(V other) {
        return with(Function.DIVIDED, operand(other));
    }

    /**
     * {@return the quotient of both}
     *
     * @param other the other one
     */
    public Num<E, V> dividedBy(Expr<? super E, V> other) {
        return with(Function.DIVIDED, other.term());
    }

    private Num<E, V> with(Function function, Term other) {
        return new Num<>(new Call(function, List.of(term(), other)));
    }

    @Override
    public Num<E, V> orElse(V instead) {
        return new Num<>(coalesce(operand(instead)));
    }

    /** {@return the average over the rows of a group, as far as they have the value} */
    public Num<E, Double> average() {
        return new Num<>(new Aggregate(Aggregate.Kind.AVG, term()));
    }
}
