package io.bathra.mapping;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** An index that is declared, by its name, where one was given, and its attributes in order. */
public record IndexRule(@Nullable String name, List<StoredAttribute> attributes) {
    public IndexRule {
        attributes = List.copyOf(attributes);
    }
}
