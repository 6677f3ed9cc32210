package io.bathra.model;

/** An option of a key, made by one of the words of {@link Declare}. */
public sealed interface KeyOption permits NameOption, Options.Source {}
