package io.bathra.query;

import io.bathra.attr.Accessor;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * An association to read at once with the entities of a query, or one of those at its other end. Made by
 * {@link Ask#along(io.bathra.attr.Attr)}. Immutable.
 *
 * @param <E> the entity that is asked about
 */
public final class Along<E> {
    private final List<Accessor> steps;
    private final @Nullable Boolean joined;

    Along(List<Accessor> steps, @Nullable Boolean joined) {
        this.steps = List.copyOf(steps);
        this.joined = joined;
    }

    /**
     * Reads the other end by a join in the query's own statement. That is what becomes of links to one anyway; links to many
     * are refused, since their owners would come again with each element.
     */
    public Along<E> joined() {
        return new Along<>(steps, true);
    }

    /**
     * Reads the other end by a statement of its own: worth while where many rows lead to few wide ones, which a join would
     * repeat.
     */
    public Along<E> separately() {
        return new Along<>(steps, false);
    }

    /** The associations, from one end to the next. */
    public List<Accessor> steps() {
        return steps;
    }

    /** Whether the last of them is joined; null when nothing was said. */
    public @Nullable Boolean isJoined() {
        return joined;
    }

    @Override
    public boolean equals(@Nullable Object other) {
        return other instanceof Along<?> that
                && steps.equals(that.steps)
                && (joined == null ? that.joined == null : joined.equals(that.joined));
    }

    @Override
    public int hashCode() {
        return steps.hashCode();
    }

    @Override
    public String toString() {
        return steps.stream().map(Accessor::beanProperty).collect(Collectors.joining("."));
    }
}
