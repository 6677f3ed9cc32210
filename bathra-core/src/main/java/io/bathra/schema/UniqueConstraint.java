package io.bathra.schema;

import java.util.List;

/**
 * A unique constraint, by its name and its columns.
 *
 * @param deferrable whether it may be checked at the end of a transaction, where the database can
 */
public record UniqueConstraint(String name, List<String> columns, boolean deferrable) {
    public UniqueConstraint {
        columns = List.copyOf(columns);
    }
}
