package io.bathra.examples.harbour;

/** What a pilot may do. */
public enum Grade {
    FIRST,
    SECOND,
    TRAINEE
}
