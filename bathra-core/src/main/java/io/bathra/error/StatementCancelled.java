package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** A statement was stopped by another thread, by {@code UnitOfWork.cancel()}. */
public final class StatementCancelled extends StatementException {
    /** Whether the transaction is over. */
    private final boolean transactionGone;

    /**
     * Made by the library, where it happens.
     *
     * @param sql the statement
     * @param transactionGone whether the transaction is over
     * @param cause what was behind it; null for nothing
     */
    public StatementCancelled(String sql, boolean transactionGone, @Nullable Throwable cause) {
        super(
                "a statement was cancelled by another thread; "
                        + (transactionGone
                                ? "the transaction is gone with it, so do the work again in a new unit"
                                : "roll back, or go on with what was done before it"),
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
