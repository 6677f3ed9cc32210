package io.bathra.model;

/** Where the keys of new entities come from. */
public enum KeySource {
    /** The database draws them. */
    GENERATED,
    /** The program sets them before the flush. */
    ASSIGNED
}
