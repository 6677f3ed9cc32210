package io.bathra.attr;

/** What happens to an entity in a flush. */
public enum Event {
    INSERT,
    UPDATE,
    REMOVE
}
