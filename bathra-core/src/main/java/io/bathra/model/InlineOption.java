package io.bathra.model;

/** An option of an inlined value, made by one of the words of {@link Declare}. */
public sealed interface InlineOption permits SharedOption, Options.Prefix, MemberOption {}
