package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** An SQL statement that the database refused. The driver's exception is the cause. */
public class StatementException extends BathraException {
    private final String sql;

    public StatementException(String message, String sql, @Nullable Throwable cause) {
        super(message + "\n  statement: " + sql, cause);
        this.sql = sql;
    }

    /** The statement, with placeholders. */
    public String sql() {
        return sql;
    }
}
