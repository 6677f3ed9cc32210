package io.bathra.model;

/** The name of a key's, column's or link's column, made by {@link Declare#name}. */
public sealed interface NameOption extends KeyOption, ColumnOption, LinkOption, SideOption permits Options.Name {}
