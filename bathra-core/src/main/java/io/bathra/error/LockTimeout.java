package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** A lock that somebody else held was not released in the time that the database waits. */
public final class LockTimeout extends ContentionException {
    /**
     * Made by the library, where it happens.
     *
     * @param sql the statement
     * @param transactionGone whether the transaction is over
     * @param cause what was behind it; null for nothing
     */
    public LockTimeout(String sql, boolean transactionGone, @Nullable Throwable cause) {
        super(
                "a row or table was locked by somebody else for longer than the database waits; do the work again, or keep transactions shorter",
                sql,
                transactionGone,
                cause);
    }
}
