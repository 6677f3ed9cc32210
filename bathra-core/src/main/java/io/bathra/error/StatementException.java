package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** An SQL statement that the database refused. The driver's exception is the cause. */
public class StatementException extends BathraException {
    private final String sql;

    public StatementException(String message, String sql, @Nullable Throwable cause) {
        super(message + "\n  statement: " + sql, cause);
        this.sql = sql;
    }

    /** Whether the transaction has come to its end with the statement, so that a unit of work is broken. */
    public boolean isTransactionGone() {
        return false;
    }

    /** The statement, with placeholders. */
    public String sql() {
        return sql;
    }
}
