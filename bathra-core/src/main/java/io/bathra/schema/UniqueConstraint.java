package io.bathra.schema;

import java.util.List;

/** A unique constraint, by its name and its columns. */
public record UniqueConstraint(String name, List<String> columns) {
    public UniqueConstraint {
        columns = List.copyOf(columns);
    }
}
