package io.bathra.schema;

import java.util.List;

/** An index, by its name and its columns. */
public record Index(String name, List<String> columns) {
    public Index {
        columns = List.copyOf(columns);
    }
}
