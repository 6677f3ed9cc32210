package io.bathra.model;

/** An option of a column, a link or an inlined value, made by one of the words of {@link Declare}. */
public sealed interface SharedOption extends ColumnOption, LinkOption, InlineOption
        permits Options.Required, Options.Unique {}
