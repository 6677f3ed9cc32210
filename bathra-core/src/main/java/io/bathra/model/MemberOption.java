package io.bathra.model;

/** Options for one member of an inlined value or part, made by {@link Declare#within}. */
public sealed interface MemberOption extends InlineOption, PartsOption permits Options.Within {}
