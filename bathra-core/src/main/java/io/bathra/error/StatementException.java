package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** An SQL statement that the database refused. The driver's exception is the cause. */
public class StatementException extends BathraException {
    /** The statement. */
    private final String sql;

    /**
     * Made by the library, where it happens.
     *
     * @param message what happened, where, and what to do
     * @param sql the statement
     * @param cause what was behind it; null for nothing
     */
    public StatementException(String message, String sql, @Nullable Throwable cause) {
        super(message + "\n  statement: " + sql, cause);
        this.sql = sql;
    }

    /** {@return whether the transaction has come to its end with the statement, so that a unit of work is broken} */
    public boolean isTransactionGone() {
        return false;
    }

    /** {@return the statement, with placeholders} */
    public String sql() {
        return sql;
    }
}
