package io.bathra.model;

/** An option of a pivot, made by one of the words of {@link Declare}. */
public sealed interface PivotOption
        permits AssociationOption,
                TableOption,
                Options.DistinctEnds,
                Options.Exclusive,
                Options.Ordered,
                Options.OwnKey,
                Options.Side {}
