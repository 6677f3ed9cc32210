package io.bathra.spring;

import io.bathra.Outcome;
import org.jspecify.annotations.Nullable;
import org.springframework.transaction.TransactionExecution;
import org.springframework.transaction.TransactionExecutionListener;
import org.springframework.transaction.support.DefaultTransactionStatus;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Hears of each transaction of a manager. The flush before a commit is done here and not by a synchronization: those
 * that are registered while others are called before the commit are not called any more, and what they had changed
 * would be lost.
 */
final class ManagerListener implements TransactionExecutionListener {
    private final Units units;

    ManagerListener(Units units) {
        this.units = units;
    }

    @Override
    public void beforeBegin(TransactionExecution transaction) {
        HostedUnit hosted = units.current();
        if (transaction.isNested() && hosted != null) {
            hosted.nestedBegins();
        }
    }

    @Override
    public void afterBegin(TransactionExecution transaction, @Nullable Throwable failure) {
        HostedUnit hosted = units.current();
        if (transaction.isNested()) {
            if (failure != null && hosted != null) {
                hosted.nestedEnds();
            }
        } else if (failure == null && TransactionSynchronizationManager.isSynchronizationActive()) {
            boolean own = transaction instanceof DefaultTransactionStatus status && status.isNewSynchronization();
            hosted = new HostedUnit(units, transaction.isReadOnly(), own);
            hosted.bind();
            TransactionSynchronizationManager.registerSynchronization(hosted);
        }
    }

    @Override
    public void beforeCommit(TransactionExecution transaction) {
        HostedUnit hosted = units.current();
        if (hosted != null) {
            hosted.flush();
        }
    }

    @Override
    public void afterCommit(TransactionExecution transaction, @Nullable Throwable failure) {
        HostedUnit hosted = units.current();
        if (hosted == null) {
            return;
        }
        if (transaction.isNested()) {
            hosted.nestedEnds();
        } else {
            hosted.managerIsDone(failure == null ? Outcome.COMMITTED : Outcome.UNKNOWN);
        }
    }

    @Override
    public void afterRollback(TransactionExecution transaction, @Nullable Throwable failure) {
        HostedUnit hosted = units.current();
        if (hosted == null) {
            return;
        }
        if (!transaction.isNested()) {
            hosted.managerIsDone(failure == null ? Outcome.ROLLED_BACK : Outcome.UNKNOWN);
        } else if (failure == null) {
            hosted.nestedWentBack();
        } else {
            hosted.nestedEnds();
        }
    }
}
