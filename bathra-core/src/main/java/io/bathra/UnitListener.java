package io.bathra;

/** Somebody who wants to know what becomes of a unit of work. An exception of {@code flushed} takes the flush back. */
public interface UnitListener {
    /**
     * A flush has written something; the transaction is still open.
     *
     * @param work the unit of work
     * @param report where it is told
     */
    default void flushed(UnitOfWork work, FlushReport report) {}

    /**
     * The transaction is committed, with everything since the last one.
     *
     * @param work the unit of work
     * @param report where it is told
     */
    default void committed(UnitOfWork work, FlushReport report) {}

    /**
     * What was flushed has been rolled back.
     *
     * @param work the unit of work
     */
    default void rolledBack(UnitOfWork work) {}
}
