package io.bathra.query;

import io.bathra.access.RecordMaker;
import io.bathra.question.Answers;
import io.bathra.question.Question;
import io.bathra.question.Selection;
import io.bathra.question.Term;
import java.util.Arrays;
import java.util.List;
import java.util.function.BiFunction;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * What can be asked for values: rows, or groups of rows. The values come as the constructor wants them, or it does not
 * compile.
 *
 * <pre>{@code
 * work.from(PortCall.class).as(Arrival::new, the(PortCall::eta), text(PortCall::vessel, Vessel::name)).list();
 * }</pre>
 *
 * @param <E> the entity that is asked about
 */
public abstract sealed class Selecting<E> permits Query, Grouping {
    final Answers answers;
    final Question<E> question;

    Selecting(Answers answers, Question<E> question) {
        this.answers = answers;
        this.question = question;
    }

    /**
     * {@return the values of one expression, made into what is wanted}
     *
     * @param <A> a value that is selected
     * @param <R> what each row becomes
     * @param maker what makes a row of the values, such as a constructor
     * @param a the first value
     */
    @SuppressWarnings("unchecked") // each expression gives what its type says
    public final <A, R> Projection<R> as(Function<A, ? extends R> maker, Expr<? super E, ? extends A> a) {
        return select(row -> maker.apply((A) row[0]), a);
    }

    /**
     * {@return the values of 2 expressions, made into what is wanted}
     *
     * @param <A> a value that is selected
     * @param <B> a value that is selected
     * @param <R> what each row becomes
     * @param maker what makes a row of the values, such as a constructor
     * @param a the first value
     * @param b the second value
     */
    @SuppressWarnings("unchecked") // each expression gives what its type says
    public final <A, B, R> Projection<R> as(
            BiFunction<A, B, ? extends R> maker, Expr<? super E, ? extends A> a, Expr<? super E, ? extends B> b) {
        return select(row -> maker.apply((A) row[0], (B) row[1]), a, b);
    }

    /**
     * {@return the values of 3 expressions, made into what is wanted}
     *
     * @param <A> a value that is selected
     * @param <B> a value that is selected
     * @param <C> the class
     * @param <R> what each row becomes
     * @param maker what makes a row of the values, such as a constructor
     * @param a the first value
     * @param b the second value
     * @param c the third value
     */
    @SuppressWarnings("unchecked") // each expression gives what its type says
    public final <A, B, C, R> Projection<R> as(
            Maker.Of3<A, B, C, ? extends R> maker,
            Expr<? super E, ? extends A> a,
            Expr<? super E, ? extends B> b,
            Expr<? super E, ? extends C> c) {
        return select(row -> maker.apply((A) row[0], (B) row[1], (C) row[2]), a, b, c);
    }

    /**
     * {@return the values of 4 expressions, made into what is wanted}
     *
     * @param <A> a value that is selected
     * @param <B> a value that is selected
     * @param <C> the class
     * @param <D> a value that is selected
     * @param <R> what each row becomes
     * @param maker what makes a row of the values, such as a constructor
     * @param a the first value
     * @param b the second value
     * @param c the third value
     * @param d the fourth value
     */
    @SuppressWarnings("unchecked") // each expression gives what its type says
    public final <A, B, C, D, R> Projection<R> as(
            Maker.Of4<A, B, C, D, ? extends R> maker,
            Expr<? super E, ? extends A> a,
            Expr<? super E, ? extends B> b,
            Expr<? super E, ? extends C> c,
            Expr<? super E, ? extends D> d) {
        return select(row -> maker.apply((A) row[0], (B) row[1], (C) row[2], (D) row[3]), a, b, c, d);
    }

    /**
     * {@return the values of 5 expressions, made into what is wanted}
     *
     * @param <A> a value that is selected
     * @param <B> a value that is selected
     * @param <C> the class
     * @param <D> a value that is selected
     * @param <F> a value that is selected
     * @param <R> what each row becomes
     * @param maker what makes a row of the values, such as a constructor
     * @param a the first value
     * @param b the second value
     * @param c the third value
     * @param d the fourth value
     * @param f the fifth value
     */
    @SuppressWarnings("unchecked") // each expression gives what its type says
    public final <A, B, C, D, F, R> Projection<R> as(
            Maker.Of5<A, B, C, D, F, ? extends R> maker,
            Expr<? super E, ? extends A> a,
            Expr<? super E, ? extends B> b,
            Expr<? super E, ? extends C> c,
            Expr<? super E, ? extends D> d,
            Expr<? super E, ? extends F> f) {
        return select(row -> maker.apply((A) row[0], (B) row[1], (C) row[2], (D) row[3], (F) row[4]), a, b, c, d, f);
    }

    /**
     * {@return the values of 6 expressions, made into what is wanted}
     *
     * @param <A> a value that is selected
     * @param <B> a value that is selected
     * @param <C> the class
     * @param <D> a value that is selected
     * @param <F> a value that is selected
     * @param <G> a value that is selected
     * @param <R> what each row becomes
     * @param maker what makes a row of the values, such as a constructor
     * @param a the first value
     * @param b the second value
     * @param c the third value
     * @param d the fourth value
     * @param f the fifth value
     * @param g the sixth value
     */
    @SuppressWarnings("unchecked") // each expression gives what its type says
    public final <A, B, C, D, F, G, R> Projection<R> as(
            Maker.Of6<A, B, C, D, F, G, ? extends R> maker,
            Expr<? super E, ? extends A> a,
            Expr<? super E, ? extends B> b,
            Expr<? super E, ? extends C> c,
            Expr<? super E, ? extends D> d,
            Expr<? super E, ? extends F> f,
            Expr<? super E, ? extends G> g) {
        return select(
                row -> maker.apply((A) row[0], (B) row[1], (C) row[2], (D) row[3], (F) row[4], (G) row[5]),
                a,
                b,
                c,
                d,
                f,
                g);
    }

    /**
     * {@return the values of 7 expressions, made into what is wanted}
     *
     * @param <A> a value that is selected
     * @param <B> a value that is selected
     * @param <C> the class
     * @param <D> a value that is selected
     * @param <F> a value that is selected
     * @param <G> a value that is selected
     * @param <H> a value that is selected
     * @param <R> what each row becomes
     * @param maker what makes a row of the values, such as a constructor
     * @param a the first value
     * @param b the second value
     * @param c the third value
     * @param d the fourth value
     * @param f the fifth value
     * @param g the sixth value
     * @param h the seventh value
     */
    @SuppressWarnings("unchecked") // each expression gives what its type says
    public final <A, B, C, D, F, G, H, R> Projection<R> as(
            Maker.Of7<A, B, C, D, F, G, H, ? extends R> maker,
            Expr<? super E, ? extends A> a,
            Expr<? super E, ? extends B> b,
            Expr<? super E, ? extends C> c,
            Expr<? super E, ? extends D> d,
            Expr<? super E, ? extends F> f,
            Expr<? super E, ? extends G> g,
            Expr<? super E, ? extends H> h) {
        return select(
                row -> maker.apply((A) row[0], (B) row[1], (C) row[2], (D) row[3], (F) row[4], (G) row[5], (H) row[6]),
                a,
                b,
                c,
                d,
                f,
                g,
                h);
    }

    /**
     * {@return the values of 8 expressions, made into what is wanted}
     *
     * @param <A> a value that is selected
     * @param <B> a value that is selected
     * @param <C> the class
     * @param <D> a value that is selected
     * @param <F> a value that is selected
     * @param <G> a value that is selected
     * @param <H> a value that is selected
     * @param <I> a value that is selected
     * @param <R> what each row becomes
     * @param maker what makes a row of the values, such as a constructor
     * @param a the first value
     * @param b the second value
     * @param c the third value
     * @param d the fourth value
     * @param f the fifth value
     * @param g the sixth value
     * @param h the seventh value
     * @param i the eighth value
     */
    @SuppressWarnings("unchecked") // each expression gives what its type says
    public final <A, B, C, D, F, G, H, I, R> Projection<R> as(
            Maker.Of8<A, B, C, D, F, G, H, I, ? extends R> maker,
            Expr<? super E, ? extends A> a,
            Expr<? super E, ? extends B> b,
            Expr<? super E, ? extends C> c,
            Expr<? super E, ? extends D> d,
            Expr<? super E, ? extends F> f,
            Expr<? super E, ? extends G> g,
            Expr<? super E, ? extends H> h,
            Expr<? super E, ? extends I> i) {
        return select(
                row -> maker.apply(
                        (A) row[0], (B) row[1], (C) row[2], (D) row[3], (F) row[4], (G) row[5], (H) row[6], (I) row[7]),
                a,
                b,
                c,
                d,
                f,
                g,
                h,
                i);
    }

    /**
     * {@return the value of one expression, as it is}
     *
     * @param <V> the attribute's type
     * @param value the value
     */
    @SuppressWarnings("unchecked") // the expression gives what its type says
    public final <V> Projection<V> as(Expr<? super E, V> value) {
        return select(row -> (V) row[0], value);
    }

    /**
     * {@return a record of attributes, which have the names of its components; one that is called like a link with
     * {@code Id} behind it is the key of the link's target}
     *
     * @param <R> what each row becomes
     * @param record a record whose components are named like attributes
     * @throws io.bathra.error.BathraException when there is no such attribute
     */
    public final <R extends Record> Projection<R> as(Class<R> record) {
        RecordMaker<R> maker = RecordMaker.of(record);
        return new Projection<>(
                answers, new Selection<>(question, answers.attributes(question.type(), record), false, maker::make));
    }

    private <R> Projection<R> select(Function<@Nullable Object[], R> maker, Expr<?, ?>... expressions) {
        List<Term> terms = Arrays.stream(expressions).map(Expr::term).toList();
        return new Projection<>(answers, new Selection<>(question, terms, false, maker));
    }

    /** The question in SQL's own words; its conditions are left out where they speak of secrets. */
    @Override
    public final String toString() {
        return answers.describe(question);
    }
}
