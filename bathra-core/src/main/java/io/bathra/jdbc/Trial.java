package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.error.SerializationFailure;
import io.bathra.error.StatementException;

/**
 * Something that may fail in a transaction, which then costs nothing else: where there is work, it goes back to a
 * savepoint.
 */
public final class Trial {
    private Trial() {}

    /** Does it; a failure is thrown after the transaction has gone back. */
    public static void of(Transaction transaction, CharSequence cause, Runnable work) {
        if (!transaction.hasWork()) {
            work.run();
            return;
        }
        int place = transaction.savepoint(cause);
        try {
            work.run();
        } catch (RuntimeException e) {
            giveUp(transaction, cause, place, e);
            throw e;
        }
        transaction.releaseSavepoint(cause, place);
    }

    private static void giveUp(Transaction transaction, CharSequence cause, int place, RuntimeException failure) {
        if (failure instanceof StatementException statement && statement.isTransactionGone()) {
            return;
        }
        try {
            transaction.rollbackToSavepoint(cause, place);
            transaction.releaseSavepoint(cause, place);
            transaction.recovered(failure);
        } catch (SerializationFailure e) {
            e.addSuppressed(failure);
            throw e;
        } catch (BathraException e) {
            failure.addSuppressed(e);
        }
    }
}
