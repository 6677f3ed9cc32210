package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** Two transactions waited for one another, and the database chose this one to give way. */
public final class Deadlock extends ContentionException {
    /**
     * Made by the library, where it happens.
     *
     * @param sql the statement
     * @param transactionGone whether the transaction is over
     * @param cause what was behind it; null for nothing
     */
    public Deadlock(String sql, boolean transactionGone, @Nullable Throwable cause) {
        super(
                "two transactions waited for one another, and this one was chosen to give way; do the work again in a new unit",
                sql,
                transactionGone,
                cause);
    }
}
