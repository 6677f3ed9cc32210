package io.bathra.attr;

import org.jspecify.annotations.Nullable;

/**
 * An attribute to which an update gives another value.
 *
 * @param name the attribute, by the name of its field
 * @param before the value that the row has, as it is stored; for a link, the foreign key
 * @param after the value that it gets; for a link to a new object, what leads to it
 */
public record ChangedAttribute(
        String name, @Nullable Object before, @Nullable Object after) {
    @Override
    public String toString() {
        return name + ": " + before + " -> " + after;
    }
}
