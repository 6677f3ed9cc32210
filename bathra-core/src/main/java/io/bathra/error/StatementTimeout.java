package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** A statement took longer than the terms of its unit allow, or than the database does. */
public final class StatementTimeout extends StatementException {
    /** Whether the transaction is over. */
    private final boolean transactionGone;

    /**
     * Made by the library, where it happens.
     *
     * @param sql the statement
     * @param transactionGone whether the transaction is over
     * @param cause what was behind it; null for nothing
     */
    public StatementTimeout(String sql, boolean transactionGone, @Nullable Throwable cause) {
        super(
                "a statement took longer than it may, and was given up; allow more time, ask for less, or see what it"
                        + " waits for",
                sql,
                cause);
        this.transactionGone = transactionGone;
    }

    /** Whether the database has rolled back the whole transaction, so that the unit of work is broken. */
    @Override
    public boolean isTransactionGone() {
        return transactionGone;
    }
}
