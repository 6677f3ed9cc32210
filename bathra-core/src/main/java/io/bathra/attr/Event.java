package io.bathra.attr;

/** What happens to an entity in a flush. */
public enum Event {
    /** A row comes. */
    INSERT,
    /** A row changes. */
    UPDATE,
    /** A row goes. */
    REMOVE
}
