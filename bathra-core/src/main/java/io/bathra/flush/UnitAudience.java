package io.bathra.flush;

/** Who is told of what becomes of a unit of work. An exception of {@link #flushed} takes the flush back. */
public interface UnitAudience {
    /** A flush has written something; the transaction is still open. */
    void flushed(Written written);

    /** The transaction is committed, with everything since the last one. */
    void committed(Written written);

    /** What was flushed has been rolled back. */
    void rolledBack();
}
