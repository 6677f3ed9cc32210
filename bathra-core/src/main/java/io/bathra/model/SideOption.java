package io.bathra.model;

/** An option of one side of a pivot, made by one of the words of {@link Declare}. */
public sealed interface SideOption permits NameOption, DeleteOption {}
