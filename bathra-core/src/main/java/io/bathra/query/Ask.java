package io.bathra.query;

import io.bathra.access.Accessor;
import io.bathra.attr.Attr;
import io.bathra.link.Link;
import io.bathra.link.Relation;
import io.bathra.question.Match;
import io.bathra.question.Path;
import io.bathra.question.SearchCondition;
import io.bathra.question.SearchCondition.Elements;
import io.bathra.question.SearchCondition.Elements.Quantifier;
import io.bathra.question.Term;
import io.bathra.question.Term.Aggregate;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Collection;
import org.jspecify.annotations.Nullable;

/**
 * Where questions begin; made for a static import.
 *
 * <pre>{@code
 * work.from(PortCall.class)
 *     .where(the(PortCall::status).is(EXPECTED), text(PortCall::vessel, Vessel::name).startsWith("North"))
 *     .orderBy(the(PortCall::eta).ascending())
 *     .list();
 * }</pre>
 */
public final class Ask {
    private Ask() {}

    /**
     * {@return an attribute of the entity}
     *
     * @param <E> the entity
     * @param <V> the attribute's type
     * @param attribute the attribute, by its accessor
     */
    public static <E, V extends @Nullable Comparable<? super V>> Expr<E, V> the(Attr<E, V> attribute) {
        return new Expr<>(Path.attribute(attribute));
    }

    /**
     * {@return an attribute of the entity whose accessor is overloaded} The compiler cannot tell from {@code
     * Vessel::name} alone which entity is meant when {@code name(String)} is there too, so the entity is named.
     *
     * @param <E> the entity
     * @param <V> the attribute's type
     * @param entity the entity's class
     * @param attribute the attribute, by its accessor
     */
    public static <E, V extends @Nullable Comparable<? super V>> Expr<E, V> the(
            Class<E> entity, Attr<? super E, V> attribute) {
        return new Expr<>(Path.attribute(attribute));
    }

    /**
     * {@return an attribute of the entity that a link leads to} The key of the target needs no join.
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param <V> the attribute's type
     * @param link the link, by its accessor
     * @param attribute the attribute, by its accessor
     */
    public static <E, T, V extends @Nullable Comparable<? super V>> Expr<E, V> the(
            Attr<E, Link<T>> link, Attr<? super T, V> attribute) {
        return new Expr<>(Path.attribute(link, attribute));
    }

    /**
     * {@return an attribute two links away}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param <U> the type of the other value
     * @param <V> the attribute's type
     * @param link the link, by its accessor
     * @param next what comes behind
     * @param attribute the attribute, by its accessor
     */
    public static <E, T, U, V extends @Nullable Comparable<? super V>> Expr<E, V> the(
            Attr<E, Link<T>> link, Attr<? super T, Link<U>> next, Attr<? super U, V> attribute) {
        return new Expr<>(Path.attribute(link, next, attribute));
    }

    /**
     * {@return a text attribute of the entity}
     *
     * @param <E> the entity
     * @param attribute the attribute, by its accessor
     */
    public static <E> Text<E> text(Attr<E, ? extends @Nullable String> attribute) {
        return new Text<>(Path.attribute(attribute));
    }

    /**
     * {@return a text attribute of the entity whose accessor is overloaded, so that the entity has to be named}
     *
     * @param <E> the entity
     * @param entity the entity's class
     * @param attribute the attribute, by its accessor
     */
    public static <E> Text<E> text(Class<E> entity, Attr<? super E, ? extends @Nullable String> attribute) {
        return new Text<>(Path.attribute(attribute));
    }

    /**
     * {@return a text attribute of the entity that a link leads to}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param link the link, by its accessor
     * @param attribute the attribute, by its accessor
     */
    public static <E, T> Text<E> text(Attr<E, Link<T>> link, Attr<? super T, ? extends @Nullable String> attribute) {
        return new Text<>(Path.attribute(link, attribute));
    }

    /**
     * {@return a text attribute two links away}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param <U> the type of the other value
     * @param link the link, by its accessor
     * @param next what comes behind
     * @param attribute the attribute, by its accessor
     */
    public static <E, T, U> Text<E> text(
            Attr<E, Link<T>> link,
            Attr<? super T, Link<U>> next,
            Attr<? super U, ? extends @Nullable String> attribute) {
        return new Text<>(Path.attribute(link, next, attribute));
    }

    /**
     * {@return a link of the entity, to ask what it leads to}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param link the link, by its accessor
     */
    public static <E, T> Linked<E, T> link(Attr<E, Link<T>> link) {
        return new Linked<>(new Term.Link(Path.of(link)));
    }

    /**
     * {@return a link of the entity whose accessor is overloaded}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param entity the entity's class
     * @param link the link, by its accessor
     */
    public static <E, T> Linked<E, T> link(Class<E> entity, Attr<? super E, Link<T>> link) {
        return new Linked<>(new Term.Link(Path.of(link)));
    }

    /**
     * {@return a link of the entity that a link leads to}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param <U> the type of the other value
     * @param link the link, by its accessor
     * @param next what comes behind
     */
    public static <E, T, U> Linked<E, U> link(Attr<E, Link<T>> link, Attr<? super T, Link<U>> next) {
        return new Linked<>(new Term.Link(Path.of(link, next)));
    }

    /**
     * {@return a number attribute of the entity, to calculate with}
     *
     * @param <E> the entity
     * @param <V> the attribute's type
     * @param attribute the attribute, by its accessor
     */
    public static <E, V extends Number & Comparable<? super V>> Num<E, V> number(
            Attr<E, ? extends @Nullable V> attribute) {
        return new Num<>(Path.attribute(attribute));
    }

    /**
     * {@return a number attribute of the entity whose accessor is overloaded}
     *
     * @param <E> the entity
     * @param <V> the attribute's type
     * @param entity the entity's class
     * @param attribute the attribute, by its accessor
     */
    public static <E, V extends Number & Comparable<? super V>> Num<E, V> number(
            Class<E> entity, Attr<? super E, ? extends @Nullable V> attribute) {
        return new Num<>(Path.attribute(attribute));
    }

    /**
     * {@return a number attribute of the entity that a link leads to}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param <V> the attribute's type
     * @param link the link, by its accessor
     * @param attribute the attribute, by its accessor
     */
    public static <E, T, V extends Number & Comparable<? super V>> Num<E, V> number(
            Attr<E, Link<T>> link, Attr<? super T, ? extends @Nullable V> attribute) {
        return new Num<>(Path.attribute(link, attribute));
    }

    /**
     * {@return a date attribute of the entity, to look at its parts}
     *
     * @param <E> the entity
     * @param attribute the attribute, by its accessor
     */
    public static <E> OnDate<E> date(Attr<E, ? extends @Nullable LocalDate> attribute) {
        return new OnDate<>(Path.attribute(attribute));
    }

    /**
     * {@return a date attribute of the entity whose accessor is overloaded}
     *
     * @param <E> the entity
     * @param entity the entity's class
     * @param attribute the attribute, by its accessor
     */
    public static <E> OnDate<E> date(Class<E> entity, Attr<? super E, ? extends @Nullable LocalDate> attribute) {
        return new OnDate<>(Path.attribute(attribute));
    }

    /**
     * {@return a date attribute of the entity that a link leads to}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param link the link, by its accessor
     * @param attribute the attribute, by its accessor
     */
    public static <E, T> OnDate<E> date(
            Attr<E, Link<T>> link, Attr<? super T, ? extends @Nullable LocalDate> attribute) {
        return new OnDate<>(Path.attribute(link, attribute));
    }

    /**
     * {@return a time attribute of the entity, to look at its parts}
     *
     * @param <E> the entity
     * @param attribute the attribute, by its accessor
     */
    public static <E> AtTime<E> time(Attr<E, ? extends @Nullable LocalTime> attribute) {
        return new AtTime<>(Path.attribute(attribute));
    }

    /**
     * {@return a time attribute of the entity whose accessor is overloaded}
     *
     * @param <E> the entity
     * @param entity the entity's class
     * @param attribute the attribute, by its accessor
     */
    public static <E> AtTime<E> time(Class<E> entity, Attr<? super E, ? extends @Nullable LocalTime> attribute) {
        return new AtTime<>(Path.attribute(attribute));
    }

    /**
     * {@return a time attribute of the entity that a link leads to}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param link the link, by its accessor
     * @param attribute the attribute, by its accessor
     */
    public static <E, T> AtTime<E> time(
            Attr<E, Link<T>> link, Attr<? super T, ? extends @Nullable LocalTime> attribute) {
        return new AtTime<>(Path.attribute(link, attribute));
    }

    /**
     * {@return a date-time attribute of the entity, to look at its parts}
     *
     * @param <E> the entity
     * @param attribute the attribute, by its accessor
     */
    public static <E> OnDateTime<E, LocalDateTime> dateTime(Attr<E, ? extends @Nullable LocalDateTime> attribute) {
        return new OnDateTime<>(Path.attribute(attribute), null);
    }

    /**
     * {@return a date-time attribute of the entity whose accessor is overloaded}
     *
     * @param <E> the entity
     * @param entity the entity's class
     * @param attribute the attribute, by its accessor
     */
    public static <E> OnDateTime<E, LocalDateTime> dateTime(
            Class<E> entity, Attr<? super E, ? extends @Nullable LocalDateTime> attribute) {
        return new OnDateTime<>(Path.attribute(attribute), null);
    }

    /**
     * {@return a date-time attribute of the entity that a link leads to}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param link the link, by its accessor
     * @param attribute the attribute, by its accessor
     */
    public static <E, T> OnDateTime<E, LocalDateTime> dateTime(
            Attr<E, Link<T>> link, Attr<? super T, ? extends @Nullable LocalDateTime> attribute) {
        return new OnDateTime<>(Path.attribute(link, attribute), null);
    }

    /**
     * {@return an instant, to look at its parts in a zone} Where the database knows no zones (SQLite, and MariaDB as
     * a rule), the zone's changes of offset between 1970 and 2100 are written into the statement.
     *
     * @param <E> the entity
     * @param attribute the attribute, by its accessor
     * @param zone the time zone
     */
    public static <E> OnDateTime<E, Instant> instant(Attr<E, ? extends @Nullable Instant> attribute, ZoneId zone) {
        return new OnDateTime<>(Path.attribute(attribute), zone);
    }

    /**
     * {@return an instant whose accessor is overloaded}
     *
     * @param <E> the entity
     * @param entity the entity's class
     * @param attribute the attribute, by its accessor
     * @param zone the time zone
     */
    public static <E> OnDateTime<E, Instant> instant(
            Class<E> entity, Attr<? super E, ? extends @Nullable Instant> attribute, ZoneId zone) {
        return new OnDateTime<>(Path.attribute(attribute), zone);
    }

    /**
     * {@return an instant of the entity that a link leads to}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param link the link, by its accessor
     * @param attribute the attribute, by its accessor
     * @param zone the time zone
     */
    public static <E, T> OnDateTime<E, Instant> instant(
            Attr<E, Link<T>> link, Attr<? super T, ? extends @Nullable Instant> attribute, ZoneId zone) {
        return new OnDateTime<>(Path.attribute(link, attribute), zone);
    }

    /**
     * {@return a value that the query is given by name, with {@link Query#with}}
     *
     * @param <E> the entity
     * @param <V> the attribute's type
     * @param name the name
     * @param type the class
     */
    public static <E, V> Expr<E, V> parameter(String name, Class<V> type) {
        return new Expr<>(new Term.Parameter(name, type, false));
    }

    /**
     * {@return any number of values that the query is given by name, as a collection, with {@link Query#with}}
     *
     * @param <V> the attribute's type
     * @param name the name
     * @param type the class
     */
    public static <V> Several<V> parameters(String name, Class<V> type) {
        return new Several<>(new Term.Parameter(name, type, true));
    }

    /**
     * {@return a simple element of a collection of parts, within {@link #any(Attr, Condition[]) any} and the like}
     *
     * @param <V> the attribute's type
     * @param type the class
     */
    public static <V extends Comparable<? super V>> Expr<V, V> element(Class<V> type) {
        return new Expr<>(new Term.Element());
    }

    /** {@return a text in a collection of texts, within {@link #any(Attr, Condition[]) any} and the like} */
    public static Text<String> textElement() {
        return new Text<>(new Term.Element());
    }

    /**
     * What a row of an upsert gives for an attribute, in the values that are computed for a row that is there:
     *
     * <pre>{@code overwrite(number(Container::grossKilos).to(number(Container::grossKilos).plus(given(Container::grossKilos))))}</pre>
     *
     * @param <E> the entity
     * @param <V> the attribute's type
     * @param attribute the attribute, by its accessor
     * @return the value
     */
    public static <E, V extends @Nullable Comparable<? super V>> Expr<E, V> given(Attr<E, V> attribute) {
        return new Expr<>(new Term.Given(Path.of(attribute)));
    }

    /**
     * {@return the same where the accessor is overloaded}
     *
     * @param <E> the entity
     * @param <V> the attribute's type
     * @param entity the entity's class
     * @param attribute the attribute, by its accessor
     */
    public static <E, V extends @Nullable Comparable<? super V>> Expr<E, V> given(
            Class<E> entity, Attr<? super E, V> attribute) {
        return new Expr<>(new Term.Given(Path.of(attribute)));
    }

    // ---- associations to read along

    /**
     * {@return an association to read at once with the entities of a query}
     *
     * @param <E> the entity
     * @param association the association, by its accessor
     */
    public static <E> Along<E> along(Attr<E, ? extends Relation<?>> association) {
        return new Along<>(Accessor.of(association));
    }

    /**
     * {@return an association whose accessor is overloaded}
     *
     * @param <E> the entity
     * @param entity the entity's class
     * @param association the association, by its accessor
     */
    public static <E> Along<E> along(Class<E> entity, Attr<? super E, ? extends Relation<?>> association) {
        return new Along<>(Accessor.of(association));
    }

    /**
     * {@return an association, and one of the entities at its other end}
     *
     * @param <E> the entity
     * @param <A> a value that is selected
     * @param association the association, by its accessor
     * @param next what comes behind
     */
    public static <E, A> Along<E> along(
            Attr<E, ? extends Relation<A>> association, Attr<? super A, ? extends Relation<?>> next) {
        return new Along<>(Accessor.of(association), Accessor.of(next));
    }

    /**
     * {@return an association, one of the entities at its other end, and one of those behind}
     *
     * @param <E> the entity
     * @param <A> a value that is selected
     * @param <B> a value that is selected
     * @param association the association, by its accessor
     * @param next what comes behind
     * @param last how far the one before went; null at first
     */
    public static <E, A, B> Along<E> along(
            Attr<E, ? extends Relation<A>> association,
            Attr<? super A, ? extends Relation<B>> next,
            Attr<? super B, ? extends Relation<?>> last) {
        return new Along<>(Accessor.of(association), Accessor.of(next), Accessor.of(last));
    }

    // ---- groups of rows

    /**
     * {@return how many rows a group has}
     *
     * @param <E> the entity
     */
    public static <E> Num<E, Long> count() {
        return new Num<>(new Aggregate(Aggregate.Kind.COUNT, null));
    }

    /**
     * {@return how many rows of a group have the value}
     *
     * @param <E> the entity
     * @param value the value
     */
    public static <E> Num<E, Long> count(Expr<E, ?> value) {
        return new Num<>(new Aggregate(Aggregate.Kind.COUNT, value.term()));
    }

    /**
     * {@return how many different values a group has}
     *
     * @param <E> the entity
     * @param value the value
     */
    public static <E> Num<E, Long> countDistinct(Expr<E, ?> value) {
        return new Num<>(new Aggregate(Aggregate.Kind.COUNT_DISTINCT, value.term()));
    }

    /**
     * {@return the sum over the rows of a group, as far as they have the value; missing when none has} One that does
     * not fit the value's type is an error; {@link #longSum} has more room.
     *
     * @param <E> the entity
     * @param <V> the attribute's type
     * @param value the value
     */
    public static <E, V extends Number> Num<E, V> sum(Num<E, V> value) {
        return new Num<>(new Aggregate(Aggregate.Kind.SUM, value.term()));
    }

    /**
     * {@return the sum of whole numbers in 64 bits}
     *
     * @param <E> the entity
     * @param value the value
     */
    public static <E> Num<E, Long> longSum(Num<E, ? extends Number> value) {
        return new Num<>(new Aggregate(Aggregate.Kind.LONG_SUM, value.term()));
    }

    /**
     * {@return the smallest value in a group}
     *
     * @param <E> the entity
     * @param <V> the attribute's type
     * @param value the value
     */
    public static <E, V extends Comparable<? super V>> Expr<E, V> min(Expr<E, V> value) {
        return new Expr<>(new Aggregate(Aggregate.Kind.MIN, value.term()));
    }

    /**
     * {@return the largest value in a group}
     *
     * @param <E> the entity
     * @param <V> the attribute's type
     * @param value the value
     */
    public static <E, V extends Comparable<? super V>> Expr<E, V> max(Expr<E, V> value) {
        return new Expr<>(new Aggregate(Aggregate.Kind.MAX, value.term()));
    }

    // ---- collections

    /**
     * {@return a collection of links or parts has an element that fulfils all conditions; without conditions, any
     * element}
     *
     * <pre>{@code any(PortCall::pilots, the(Pilot::grade).is(Grade.FIRST))}</pre>
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param collection the association to many, by its accessor
     * @param conditions what has to hold
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E, T> Condition<E> any(
            Attr<E, ? extends Collection<T>> collection, Condition<? super T>... conditions) {
        return new Condition<>(new Elements(Quantifier.ANY, Path.of(collection), Condition.meanings(conditions)));
    }

    /**
     * {@return the same where the accessor is overloaded}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param entity the entity's class
     * @param collection the association to many, by its accessor
     * @param conditions what has to hold
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E, T> Condition<E> any(
            Class<E> entity, Attr<? super E, ? extends Collection<T>> collection, Condition<? super T>... conditions) {
        return new Condition<>(new Elements(Quantifier.ANY, Path.of(collection), Condition.meanings(conditions)));
    }

    /**
     * {@return the same with a collection of the entity that a link leads to}
     *
     * @param <E> the entity
     * @param <U> the type of the other value
     * @param <T> the other entity
     * @param link the link, by its accessor
     * @param collection the association to many, by its accessor
     * @param conditions what has to hold
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E, U, T> Condition<E> any(
            Attr<E, Link<U>> link,
            Attr<? super U, ? extends Collection<T>> collection,
            Condition<? super T>... conditions) {
        return new Condition<>(new Elements(Quantifier.ANY, Path.of(link, collection), Condition.meanings(conditions)));
    }

    /**
     * {@return a collection of links or parts has no element that fulfils all conditions; without conditions, no
     * element at all}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param collection the association to many, by its accessor
     * @param conditions what has to hold
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E, T> Condition<E> no(
            Attr<E, ? extends Collection<T>> collection, Condition<? super T>... conditions) {
        return new Condition<>(new Elements(Quantifier.NO, Path.of(collection), Condition.meanings(conditions)));
    }

    /**
     * {@return the same where the accessor is overloaded}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param entity the entity's class
     * @param collection the association to many, by its accessor
     * @param conditions what has to hold
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E, T> Condition<E> no(
            Class<E> entity, Attr<? super E, ? extends Collection<T>> collection, Condition<? super T>... conditions) {
        return new Condition<>(new Elements(Quantifier.NO, Path.of(collection), Condition.meanings(conditions)));
    }

    /**
     * {@return each element of a collection of links or parts fulfils all conditions, if there are any elements} One
     * for which that is unknown, since a value is missing, does not.
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param collection the association to many, by its accessor
     * @param conditions what has to hold
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E, T> Condition<E> all(
            Attr<E, ? extends Collection<T>> collection, Condition<? super T>... conditions) {
        return new Condition<>(new Elements(Quantifier.ALL, Path.of(collection), Condition.meanings(conditions)));
    }

    /**
     * {@return the same where the accessor is overloaded}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param entity the entity's class
     * @param collection the association to many, by its accessor
     * @param conditions what has to hold
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E, T> Condition<E> all(
            Class<E> entity, Attr<? super E, ? extends Collection<T>> collection, Condition<? super T>... conditions) {
        return new Condition<>(new Elements(Quantifier.ALL, Path.of(collection), Condition.meanings(conditions)));
    }

    /**
     * {@return what is inside an inlined value of the entity: {@code inside(Vessel::dimensions).the(Dimensions::beam)}}
     *
     * @param <E> the entity
     * @param <C> the class
     * @param value the value
     */
    public static <E, C> Inside<E, C> inside(Attr<E, ? extends @Nullable C> value) {
        return new Inside<>(Path.of(value));
    }

    /**
     * {@return what is inside an inlined value of the entity whose accessor is overloaded}
     *
     * @param <E> the entity
     * @param <C> the class
     * @param entity the entity's class
     * @param value the value
     */
    public static <E, C> Inside<E, C> inside(Class<E> entity, Attr<? super E, ? extends @Nullable C> value) {
        return new Inside<>(Path.of(value));
    }

    /**
     * {@return what is inside an inlined value of the entity that a link leads to}
     *
     * @param <E> the entity
     * @param <T> the other entity
     * @param <C> the class
     * @param link the link, by its accessor
     * @param value the value
     */
    public static <E, T, C> Inside<E, C> inside(Attr<E, Link<T>> link, Attr<? super T, ? extends @Nullable C> value) {
        return new Inside<>(Path.of(link, value));
    }

    /**
     * {@return what rows of two entities must have in common to stand side by side}
     *
     * @param <E> the entity
     * @param <F> the other entity
     * @param <V> the attribute's type
     * @param left the entity at the left side
     * @param right the entity at the right side
     */
    public static <E, F, V> Pairing<E, F> matching(Expr<E, V> left, Expr<F, V> right) {
        return new Pairing<>(new Match(left.term(), right.term()));
    }

    /**
     * {@return all of the conditions; true for none at all}
     *
     * @param <E> the entity
     * @param conditions what has to hold
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E> Condition<E> allOf(Condition<? super E>... conditions) {
        return new Condition<>(new SearchCondition.All(Condition.meanings(conditions)));
    }

    /**
     * At least one of the conditions; false for none at all.
     *
     * @param <E> the entity
     * @param conditions what has to hold
     * @return the condition
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E> Condition<E> anyOf(Condition<? super E>... conditions) {
        return new Condition<>(new SearchCondition.AnyOf(Condition.meanings(conditions)));
    }

    /**
     * {@return the condition's opposite} As in SQL, what is unknown for want of a value stays unknown.
     *
     * @param <E> the entity
     * @param condition what has to hold
     */
    public static <E> Condition<E> not(Condition<E> condition) {
        return new Condition<>(new SearchCondition.Negation(condition.meaning()));
    }
}
