package io.bathra.schema;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.DatabaseMade;
import org.jspecify.annotations.Nullable;

/**
 * A column.
 *
 * @param name its name, unquoted
 * @param type what it keeps
 * @param required whether it is NOT NULL
 * @param generated whether the database draws its values
 * @param made the part that the database plays in its values otherwise, if any
 */
public record Column(
        String name,
        ColumnType type,
        boolean required,
        boolean generated,
        @Nullable DatabaseMade made) {
    /** The column without the sequence behind it. */
    Column undrawn() {
        return generated ? new Column(name, type, required, false, made) : this;
    }
}
