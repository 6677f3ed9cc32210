package io.bathra.error;

import org.jspecify.annotations.Nullable;

/**
 * A statement that the database gave up since somebody else was in its way. The same work may well succeed next time.
 */
public abstract sealed class ContentionException extends StatementException
        permits Deadlock, LockTimeout, SerializationFailure {
    /** Whether the transaction is over. */
    private final boolean transactionGone;

    ContentionException(String message, String sql, boolean transactionGone, @Nullable Throwable cause) {
        super(message, sql, cause);
        this.transactionGone = transactionGone;
    }

    /** Whether the database has rolled back the whole transaction, so that the unit of work is broken. */
    @Override
    public boolean isTransactionGone() {
        return transactionGone;
    }

    @Override
    public boolean isRetryable() {
        return true;
    }
}
