package io.bathra.schema;

/** A foreign key of one column, by the names of the constraint, the column, and the column that it refers to. */
public record ForeignKey(String name, String column, String targetTable, String targetColumn) {}
