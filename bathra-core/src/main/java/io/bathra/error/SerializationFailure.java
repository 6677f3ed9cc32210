package io.bathra.error;

import org.jspecify.annotations.Nullable;

/**
 * The transaction cannot go on as if it were alone: say, what it has read was changed, and its isolation level
 * forbids that.
 */
public final class SerializationFailure extends ContentionException {
    /**
     * Made by the library, where it happens.
     *
     * @param sql the statement
     * @param transactionGone whether the transaction is over
     * @param cause what was behind it; null for nothing
     */
    public SerializationFailure(String sql, boolean transactionGone, @Nullable Throwable cause) {
        super(
                "what this transaction has read was changed by somebody else meanwhile, and its isolation level forbids to go on; do the work again in a new unit",
                sql,
                transactionGone,
                cause);
    }

    /**
     * The same with words of its own for what has made the database give up.
     *
     * @param message what happened, where, and what to do
     * @param sql the statement
     * @param transactionGone whether the transaction is over
     * @param cause what was behind it; null for nothing
     */
    public SerializationFailure(String message, String sql, boolean transactionGone, @Nullable Throwable cause) {
        super(message, sql, transactionGone, cause);
    }
}
