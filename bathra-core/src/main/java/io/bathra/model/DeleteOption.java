package io.bathra.model;

/** What happens when the row at the other end is removed, made by one of the words of {@link Declare}. */
public sealed interface DeleteOption extends LinkOption, SideOption permits Options.OnDelete {}
