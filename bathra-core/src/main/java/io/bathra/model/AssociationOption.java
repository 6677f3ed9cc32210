package io.bathra.model;

/** An option of any association, made by one of the words of {@link Declare}. */
public sealed interface AssociationOption extends LinkOption, LinksOption<Object>, PivotOption
        permits Options.NoCascade {}
