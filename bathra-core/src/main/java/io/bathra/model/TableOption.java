package io.bathra.model;

/** The name of the table of parts or of a pivot, made by {@link Declare#table}. */
public sealed interface TableOption extends PartsOption, PivotOption permits Options.TableName {}
