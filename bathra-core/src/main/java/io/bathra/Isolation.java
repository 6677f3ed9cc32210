package io.bathra;

/**
 * How much of what others do at the same time a transaction sees, in the words of SQL. On SQLite it is always the
 * strictest.
 */
public enum Isolation {
    /** Each statement sees what was committed before it. */
    READ_COMMITTED,
    /** All statements see what was committed before the first one. */
    REPEATABLE_READ,
    /**
     * As if one transaction came after the other; what cannot be put in such an order fails and can be tried again. H2
     * does not go so far: two transactions may each read what the other is about to change.
     */
    SERIALIZABLE
}
