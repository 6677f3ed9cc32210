package io.bathra.model;

/** An option of a column or a link, made by one of the words of {@link Declare}. */
public sealed interface SharedOption extends ColumnOption, LinkOption permits Options.Required, Options.Unique {}
