package io.bathra.query;

import io.bathra.attr.Attr;
import io.bathra.link.Link;
import java.util.List;
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

    /** An attribute of the entity. */
    public static <E, V extends @Nullable Comparable<? super V>> Expr<E, V> the(Attr<E, V> attribute) {
        return new Expr<>(Path.of(attribute));
    }

    /**
     * An attribute of the entity whose accessor is overloaded. The compiler cannot tell from {@code Vessel::name} alone
     * which entity is meant when {@code name(String)} is there too, so the entity is named.
     */
    public static <E, V extends @Nullable Comparable<? super V>> Expr<E, V> the(
            Class<E> entity, Attr<? super E, V> attribute) {
        return new Expr<>(Path.of(attribute));
    }

    /** An attribute of the entity that a link leads to. The key of the target needs no join. */
    public static <E, T, V extends @Nullable Comparable<? super V>> Expr<E, V> the(
            Attr<E, Link<T>> link, Attr<? super T, V> attribute) {
        return new Expr<>(Path.of(link, attribute));
    }

    /** An attribute two links away. */
    public static <E, T, U, V extends @Nullable Comparable<? super V>> Expr<E, V> the(
            Attr<E, Link<T>> link, Attr<? super T, Link<U>> next, Attr<? super U, V> attribute) {
        return new Expr<>(Path.of(link, next, attribute));
    }

    /** A text attribute of the entity. */
    public static <E> Text<E> text(Attr<E, ? extends @Nullable String> attribute) {
        return new Text<>(Path.of(attribute));
    }

    /** A text attribute of the entity whose accessor is overloaded, so that the entity has to be named. */
    public static <E> Text<E> text(Class<E> entity, Attr<? super E, ? extends @Nullable String> attribute) {
        return new Text<>(Path.of(attribute));
    }

    /** A text attribute of the entity that a link leads to. */
    public static <E, T> Text<E> text(Attr<E, Link<T>> link, Attr<? super T, ? extends @Nullable String> attribute) {
        return new Text<>(Path.of(link, attribute));
    }

    /** A text attribute two links away. */
    public static <E, T, U> Text<E> text(
            Attr<E, Link<T>> link,
            Attr<? super T, Link<U>> next,
            Attr<? super U, ? extends @Nullable String> attribute) {
        return new Text<>(Path.of(link, next, attribute));
    }

    /** What is inside an inlined value of the entity: {@code inside(Vessel::dimensions).the(Dimensions::beam)}. */
    public static <E, C> Inside<E, C> inside(Attr<E, ? extends @Nullable C> value) {
        return new Inside<>(Path.of(value));
    }

    /** What is inside an inlined value of the entity that a link leads to. */
    public static <E, T, C> Inside<E, C> inside(Attr<E, Link<T>> link, Attr<? super T, ? extends @Nullable C> value) {
        return new Inside<>(Path.of(link, value));
    }

    /** All of the conditions; true for none at all. */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E> Condition<E> allOf(Condition<? super E>... conditions) {
        return new Condition.All<E>(List.of(conditions));
    }

    /** At least one of the conditions; false for none at all. */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E> Condition<E> anyOf(Condition<? super E>... conditions) {
        return new Condition.AnyOf<E>(List.of(conditions));
    }

    /** The condition's opposite. As in SQL, what is unknown for want of a value stays unknown. */
    public static <E> Condition<E> not(Condition<E> condition) {
        return new Condition.Negation<>(condition);
    }
}
