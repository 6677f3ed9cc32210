package io.bathra.question;

import io.bathra.access.Accessor;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * An association to read at once with the entities of a query, or one of those at its other end. Immutable.
 *
 * @param steps the associations, from one end to the next
 * @param joined whether the last of them is joined; null when nothing was said
 */
public record Branch(List<Accessor> steps, @Nullable Boolean joined) {
    public Branch {
        steps = List.copyOf(steps);
    }

    @Override
    public String toString() {
        return steps.stream().map(Accessor::beanProperty).collect(Collectors.joining("."));
    }
}
