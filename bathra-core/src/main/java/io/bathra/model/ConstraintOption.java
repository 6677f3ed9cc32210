package io.bathra.model;

/** An option of the constraints on a column or link, made by one of the words of {@link Declare}. */
public sealed interface ConstraintOption extends ColumnOption, LinkOption permits Options.Deferrable {}
