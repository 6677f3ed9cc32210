package io.bathra.track;

/** A link's value where its target is an object that the unit of work does not know. */
public record Stranger(Object target) {}
