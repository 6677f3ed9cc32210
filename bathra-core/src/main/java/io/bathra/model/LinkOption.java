package io.bathra.model;

/** An option of a link, made by one of the words of {@link Declare}. */
public sealed interface LinkOption
        permits AssociationOption, NameOption, SharedOption, ConstraintOption, DeleteOption, Options.EnforcedBy {}
