package io.bathra.query;

import io.bathra.access.Accessor;
import io.bathra.attr.Attr;
import io.bathra.question.Path;
import io.bathra.question.Term;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * An inlined value in a question, on the way to its members. Made by {@link Ask#inside(Attr)}. Immutable.
 *
 * @param <E> the entity that is asked about
 * @param <C> the value's type
 */
public final class Inside<E, C> {
    private final Path path;

    Inside(Path path) {
        this.path = path;
    }

    /**
     * {@return a member of the value}
     *
     * @param <V> the attribute's type
     * @param member the member, by its accessor
     */
    public <V extends @Nullable Comparable<? super V>> Expr<E, V> the(Attr<? super C, V> member) {
        return new Expr<>(new Term.Attribute(to(member)));
    }

    /**
     * {@return a text in the value}
     *
     * @param member the member, by its accessor
     */
    public Text<E> text(Attr<? super C, ? extends @Nullable String> member) {
        return new Text<>(new Term.Attribute(to(member)));
    }

    /**
     * {@return a number in the value}
     *
     * @param <V> the attribute's type
     * @param member the member, by its accessor
     */
    public <V extends Number & Comparable<? super V>> Num<E, V> number(Attr<? super C, ? extends @Nullable V> member) {
        return new Num<>(new Term.Attribute(to(member)));
    }

    /**
     * {@return a value inside the value}
     *
     * @param <D> a value that is selected
     * @param member the member, by its accessor
     */
    public <D> Inside<E, D> inside(Attr<? super C, ? extends @Nullable D> member) {
        return new Inside<>(to(member));
    }

    private Path to(Attr<?, ?> member) {
        List<Accessor> steps = new ArrayList<>(path.steps());
        steps.add(Accessor.of(member));
        return new Path(steps);
    }

    @Override
    public String toString() {
        return path.toString();
    }
}
