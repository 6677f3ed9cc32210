package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.error.StatementException;
import io.bathra.jdbc.Transaction;
import io.bathra.track.Journal;
import io.bathra.track.Tracker;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** Work that writes: when it fails, in the database or in memory, nothing of it is left in either. */
final class AllOrNothing {
    private final UnitTransaction unit;
    private final Transaction transaction;
    private final Tracker tracker;
    private final UnitGuard guard;
    private final Recollection recollection;
    private boolean last;

    AllOrNothing(
            UnitTransaction unit,
            Transaction transaction,
            Tracker tracker,
            UnitGuard guard,
            Recollection recollection) {
        this.unit = unit;
        this.transaction = transaction;
        this.tracker = tracker;
        this.guard = guard;
        this.recollection = recollection;
    }

    /**
     * Writes, and takes all of it back when it fails.
     *
     * @param mark what is to be taken back in memory
     * @param explain says what is behind a failure; it may ask the database
     */
    <T extends @Nullable Object> T write(
            Journal.Mark mark, Supplier<T> write, UnaryOperator<RuntimeException> explain) {
        int savepoint = unit.reading(this::savepoint);
        try {
            T written = guard.alone(write);
            if (savepoint > 0) {
                transaction.releaseSavepoint("flush", savepoint);
            }
            return written;
        } catch (Error e) {
            goBack(savepoint, mark, e);
            throw e;
        } catch (RuntimeException e) {
            goBack(savepoint, mark, e);
            throw guard.isBroken() ? Flush.unexplained(e) : explained(savepoint, e, explain);
        }
    }

    private RuntimeException explained(
            int savepoint, RuntimeException failure, UnaryOperator<RuntimeException> explain) {
        RuntimeException explained;
        try {
            explained = unit.reading(() -> explain.apply(failure));
            if (savepoint == 0) {
                transaction.rollback(); // finding out may have begun another transaction, which must hold no locks
            }
        } catch (BathraException e) {
            explained = Flush.unexplained(failure);
            explained.addSuppressed(e);
        }
        return explained;
    }

    /** Nothing comes after this piece of work: where it fails, all that was read and held before is given up as well. */
    void isLast() {
        last = true;
    }

    /** Marks the place that a failed flush goes back to; 0 when that is the start of the transaction. */
    private int savepoint() {
        boolean needed = last ? transaction.hasWorkToKeep() : transaction.hasWork();
        return needed ? transaction.savepoint("flush") : 0;
    }

    /** Takes back what a failed flush has written so far: all of the transaction when nothing was written before. */
    private void goBack(int savepoint, Journal.Mark mark, Throwable cause) {
        if (cause instanceof StatementException gone && gone.isTransactionGone()) {
            unit.breakDown(gone);
            return;
        }
        try {
            if (savepoint > 0) {
                transaction.rollbackToSavepoint("flush", savepoint);
                transaction.releaseSavepoint("flush", savepoint);
            } else {
                transaction.rollback();
                unit.lostAll();
            }
        } catch (BathraException e) {
            cause.addSuppressed(e);
            unit.breakDown(e);
            return;
        }
        recollection.after(() -> savepoint > 0 ? tracker.backTo(mark) : tracker.rolledBack(), cause);
    }
}
