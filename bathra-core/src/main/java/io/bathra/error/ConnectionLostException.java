package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** The connection was lost. The database has rolled back whatever the unit had written and not committed. */
public final class ConnectionLostException extends StatementException {
    /**
     * Made by the library, where it happens.
     *
     * @param message what happened, where, and what to do
     * @param sql the statement
     * @param cause what was behind it; null for nothing
     */
    public ConnectionLostException(String message, String sql, @Nullable Throwable cause) {
        super(message, sql, cause);
    }

    @Override
    public boolean isTransactionGone() {
        return true;
    }

    @Override
    public boolean isRetryable() {
        return true;
    }
}
