package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.StatementException;
import io.bathra.jdbc.CommitFailed;
import io.bathra.jdbc.FailedSomewhere;
import io.bathra.jdbc.Transaction;
import io.bathra.track.Journal;
import io.bathra.track.Tracker;
import java.util.function.IntFunction;
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
     * Something that writes by several statements.
     *
     * @param <T> what it answers
     */
    interface Writing<T extends @Nullable Object> {
        /** Writes, in as few trips as possible. */
        void together();

        /** Writes the same, each statement in a trip of its own. */
        void oneByOne();

        /** After everything was written. */
        T settle();
    }

    /**
     * Writes, and takes all of it back when it fails.
     *
     * @param mark what is to be taken back in memory
     * @param explain says what is behind a failure; it may ask the database
     */
    <T extends @Nullable Object> T write(
            Journal.Mark mark, Supplier<T> write, UnaryOperator<RuntimeException> explain) {
        return write(mark, savepoint -> write.get(), explain);
    }

    /** The same; what has failed nobody knows where is written one by one, to find out. */
    <T extends @Nullable Object> T write(
            Journal.Mark mark, Writing<T> writing, UnaryOperator<RuntimeException> explain) {
        return write(
                mark,
                savepoint -> {
                    try {
                        writing.together();
                    } catch (FailedSomewhere e) {
                        boolean lost = savepoint == 0 && transaction.hasHeld(); // others may have changed those rows
                        takeBackAfter(e.failure(), savepoint);
                        writing.oneByOne();
                        if (lost || !e.isOnlyTogether()) {
                            throw e.failure();
                        }
                    }
                    return writing.settle();
                },
                explain);
    }

    private <T extends @Nullable Object> T write(
            Journal.Mark mark, IntFunction<T> write, UnaryOperator<RuntimeException> explain) {
        int savepoint = unit.reading(this::savepoint);
        try {
            T written = guard.alone(() -> write.apply(savepoint));
            if (savepoint > 0 && transaction.isOpen()) {
                transaction.releaseSavepoint("flush", savepoint);
            }
            return written;
        } catch (Error e) {
            goBack(savepoint, mark, e);
            throw e;
        } catch (CommitFailed e) {
            BathraException failure = e.failure();
            if (failure instanceof StatementException gone && gone.isTransactionGone()) {
                goBack(savepoint, mark, failure);
            } else {
                try {
                    unit.rollBack();
                } catch (RuntimeException again) {
                    failure.addSuppressed(again);
                }
            }
            throw failure;
        } catch (RuntimeException e) {
            goBack(savepoint, mark, e);
            throw guard.isBroken() ? Flush.unexplained(e) : explained(savepoint, e, explain);
        }
    }

    /** What was written is taken back; the savepoint stays. */
    private void takeBack(int savepoint) {
        if (savepoint > 0) {
            transaction.rollbackToSavepoint("flush", savepoint);
        } else {
            transaction.rollback();
        }
    }

    /** Whoever cannot go back is told why he had to. */
    private void takeBackAfter(BathraException failure, int savepoint) {
        try {
            takeBack(savepoint);
        } catch (BathraException e) {
            failure.addSuppressed(e);
            throw failure;
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
        if (cause instanceof CommitUnknownException unknown) {
            unit.breakDown(unknown);
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
