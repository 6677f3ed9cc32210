package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** What the transaction has read was changed by somebody else, and its isolation level forbids to go on. */
public final class SerializationFailure extends ContentionException {
    public SerializationFailure(String sql, boolean transactionGone, @Nullable Throwable cause) {
        super(
                "what this transaction has read was changed by somebody else meanwhile, and its isolation level forbids to go on; do the work again in a new unit",
                sql,
                transactionGone,
                cause);
    }
}
