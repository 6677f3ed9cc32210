package io.bathra.answer;

/** What becomes of rows that are read for an update while others hold them. */
public enum Locking {
    /** The query waits until they are free. */
    WAIT,
    /** The query fails at once. */
    NO_WAIT,
    /** They are left out. */
    SKIP_LOCKED
}
