package io.bathra.jdbc;

import io.bathra.sql.Together;
import java.sql.Connection;

/**
 * What is asked of a transaction.
 *
 * @param isolation the level by JDBC's number; 0 for that of the connection
 * @param readOnly whether nothing is to be written
 * @param upToDate whether all is to be seen that was committed before on any of several servers
 * @param lockMillis how long to wait for what others hold; 0 for as long as the database is set up to
 * @param statementMillis how long a statement may take; 0 for as long as the database is set up to
 * @param begins whether there is a transaction at all; without one each statement stands for itself
 */
public record Settings(
        int isolation, boolean readOnly, boolean upToDate, long lockMillis, long statementMillis, boolean begins) {
    /** Nothing in particular: the connection's own level, reading and writing. */
    public static final Settings PLAIN = new Settings(Connection.TRANSACTION_NONE, false, false, 0, 0, true);

    /** Nothing is to be written. */
    public static final Settings READING = new Settings(Connection.TRANSACTION_NONE, true, false, 0, 0, true);

    /** No transaction. */
    public static final Settings ALONE = new Settings(Connection.TRANSACTION_NONE, false, false, 0, 0, false);

    /** Whether it is what the connection gives in any case, but for that nothing may be written. */
    boolean isOrdinary() {
        return begins && !hasLevel() && lockMillis == 0 && statementMillis == 0;
    }

    boolean hasLevel() {
        return isolation != Connection.TRANSACTION_NONE;
    }

    /**
     * The same as SQL says it.
     *
     * @param several whether the server is one of several that take writes
     */
    Together.Opening opening(boolean several) {
        return new Together.Opening(
                hasLevel() ? level() : "", readOnly, several && upToDate, lockMillis, statementMillis);
    }

    /** The level as SQL names it. */
    String level() {
        return switch (isolation) {
            case Connection.TRANSACTION_READ_COMMITTED -> "read committed";
            case Connection.TRANSACTION_REPEATABLE_READ -> "repeatable read";
            case Connection.TRANSACTION_SERIALIZABLE -> "serializable";
            default -> throw new IllegalStateException("there is no level " + isolation);
        };
    }
}
