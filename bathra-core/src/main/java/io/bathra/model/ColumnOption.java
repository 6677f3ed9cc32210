package io.bathra.model;

/** An option of a column, made by one of the words of {@link Declare}. */
public sealed interface ColumnOption
        permits NameOption,
                SharedOption,
                ConstraintOption,
                Options.Length,
                Options.Digits,
                Options.LongText,
                Options.Json,
                Options.Made,
                Options.Secret {}
