package io.bathra;

/**
 * How a transaction has ended that a unit of work had {@linkplain Store#join joined}, and what becomes of the unit's
 * objects. Nothing is sent to the database for it.
 */
public enum Outcome {
    /** What was flushed is stored. Listeners are told, and what was to be done after the commit is done. */
    COMMITTED,

    /**
     * Nothing of what was flushed is stored. Each object holds what it held before, and what was set or asked for stays
     * pending, as after {@link UnitOfWork#rollback}. Objects that were read after the first write are not tracked any
     * more, since nothing is read again.
     */
    ROLLED_BACK,

    /**
     * Nobody knows, because the connection was lost at the commit, say. The unit is broken: every call but {@code
     * close} and questions of what it knows throws. What it has written, or read since, is not tracked any more.
     */
    UNKNOWN
}
