package io.bathra.query;

import io.bathra.query.Condition.Like;
import io.bathra.query.Condition.Like.Kind;
import java.util.Objects;

/**
 * A text attribute in a question. Made by {@link Ask#text(io.bathra.attr.Attr)}. Patterns are bound as values: a
 * {@code %} or {@code _} in them stands for itself.
 *
 * @param <E> the entity that is asked about
 */
public final class Text<E> extends Expr<E, String> {
    Text(Path path) {
        super(path);
    }

    public Condition<E> startsWith(String start) {
        return like(Kind.STARTS_WITH, start);
    }

    public Condition<E> endsWith(String end) {
        return like(Kind.ENDS_WITH, end);
    }

    public Condition<E> contains(String part) {
        return like(Kind.CONTAINS, part);
    }

    private Condition<E> like(Kind kind, String part) {
        return new Like<>(path(), kind, Objects.requireNonNull(part, () -> path() + " was compared with null"));
    }
}
