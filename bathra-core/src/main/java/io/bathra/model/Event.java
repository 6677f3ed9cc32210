package io.bathra.model;

/** What happens to an entity in a flush. */
public enum Event {
    INSERT,
    UPDATE,
    REMOVE
}
