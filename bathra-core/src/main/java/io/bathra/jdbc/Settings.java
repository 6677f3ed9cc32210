package io.bathra.jdbc;

import java.sql.Connection;

/**
 * What is asked of a transaction.
 *
 * @param isolation the level by JDBC's number; 0 for that of the connection
 * @param readOnly whether nothing is to be written
 * @param lockMillis how long to wait for what others hold; 0 for as long as the database is set up to
 * @param statementMillis how long a statement may take; 0 for as long as the database is set up to
 */
public record Settings(int isolation, boolean readOnly, long lockMillis, long statementMillis) {
    /** Nothing in particular: the connection's own level, reading and writing. */
    public static final Settings PLAIN = new Settings(Connection.TRANSACTION_NONE, false, 0, 0);

    /** Nothing is to be written. */
    public static final Settings READING = new Settings(Connection.TRANSACTION_NONE, true, 0, 0);

    boolean hasTimeouts() {
        return lockMillis > 0 || statementMillis > 0;
    }
}
