package io.bathra.schema;

import io.bathra.model.ColumnType;

/**
 * A column.
 *
 * @param name its name, unquoted
 * @param type what it keeps
 * @param required whether it is NOT NULL
 * @param generated whether the database draws its values
 */
public record Column(String name, ColumnType type, boolean required, boolean generated) {}
