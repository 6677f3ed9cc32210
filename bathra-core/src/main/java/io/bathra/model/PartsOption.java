package io.bathra.model;

/** An option of a collection of parts, made by one of the words of {@link Declare}. */
public sealed interface PartsOption permits Options.Element, MemberOption, TableOption {}
