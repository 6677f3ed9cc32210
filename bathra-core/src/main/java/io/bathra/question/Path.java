package io.bathra.question;

import io.bathra.access.Accessor;
import io.bathra.attr.Attr;
import java.util.List;
import java.util.stream.Collectors;

/**
 * The way from an entity to an attribute, over zero or more links.
 *
 * @param steps the links, then the attribute; at least one
 */
public record Path(List<Accessor> steps) {
    public Path {
        steps = List.copyOf(steps);
    }

    public static Term.Attribute attribute(Attr<?, ?>... steps) {
        return new Term.Attribute(of(steps));
    }

    public static Path of(Attr<?, ?>... steps) {
        Accessor[] way = new Accessor[steps.length];
        for (int i = 0; i < way.length; i++) {
            way[i] = Accessor.of(steps[i]);
        }
        return new Path(List.of(way));
    }

    /** In the words of the accessors: {@code vessel.name}. */
    @Override
    public String toString() {
        return steps.stream().map(Accessor::beanProperty).collect(Collectors.joining("."));
    }
}
