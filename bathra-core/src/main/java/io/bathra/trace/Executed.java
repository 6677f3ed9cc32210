package io.bathra.trace;

import java.time.Duration;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * One thing that was executed: a statement, or the beginning or end of a transaction. It holds no values: neither those
 * that were bound, nor keys that were asked for.
 *
 * @param unit the number of the unit of work, bulk job or plain statement that it belongs to, from 1 in each store
 * @param transaction which transaction of the unit, from 1; 0 before the first
 * @param trip which round trip to the database in this transaction, from 1; 0 where none was made
 * @param part which of the statements that were sent together in that trip, from 1
 * @param step which step of the plan of a flush it carries out, from 1; 0 for none
 * @param kind what happened
 * @param operation what a step of a flush does to its rows; null for anything else
 * @param table the table that it writes to; null where that is not known, or for anything else
 * @param sql the statement with placeholders, or words where there was none
 * @param path the word for the way in which values went to the database; null for a plain one
 * @param rows rows read or written; 0 while it is under way
 * @param start when it began
 * @param time how long it took; zero while it is under way. What is sent together takes the time of its first statement, that of
 * the trip; the others take none
 * @param thread the name of the thread that it was executed on
 * @param purpose the call that caused it: {@code flush}, {@code find Vessel}, {@code read PortCall.vessel for 3}
 * @param fix what would do the same with fewer statements, if this were one of many of its shape
 */
public record Executed(
        long unit,
        int transaction,
        int trip,
        int part,
        int step,
        Kind kind,
        @Nullable Operation operation,
        @Nullable String table,
        String sql,
        @Nullable String path,
        long rows,
        Instant start,
        Duration time,
        String thread,
        String purpose,
        String fix) {
    /** What can happen. */
    public enum Kind {
        /** A transaction begins. */
        BEGIN,
        /** A statement. */
        STATEMENT,
        /** Answered from the identity map: no statement was needed. */
        MEMORY,
        /** A place in a transaction is marked, or let go. */
        SAVEPOINT,
        /** A transaction, or what came behind a place in it, is taken back. */
        ROLLBACK,
        /** A transaction is committed. */
        COMMIT
    }
}
