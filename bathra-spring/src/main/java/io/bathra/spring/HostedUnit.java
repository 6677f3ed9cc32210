package io.bathra.spring;

import io.bathra.Outcome;
import io.bathra.Savepoint;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.UnitStateException;
import java.sql.Connection;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.core.Ordered;
import org.springframework.jdbc.datasource.ConnectionHolder;
import org.springframework.jdbc.datasource.DataSourceUtils;
import org.springframework.transaction.IllegalTransactionStateException;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * The unit of work of one of Spring's transactions, from the transaction's beginning on, made when somebody asks for
 * it. It is bound to the thread like the connection, and goes aside with it while another transaction is under way.
 */
final class HostedUnit implements TransactionSynchronization, Ordered {
    private final Units units;
    private final boolean readOnly;
    private final boolean own;
    private @Nullable Connection connection;
    private @Nullable UnitOfWork unit;
    private boolean ended;
    private boolean gone;

    /** Where the nested transactions that are under way have begun; empty where there was no unit then. */
    private final Deque<Optional<Savepoint>> nested = new ArrayDeque<>();

    /**
     * For a transaction that has begun.
     *
     * @param own whether the synchronizations of the thread are those of this transaction, and end with it
     */
    HostedUnit(Units units, boolean readOnly, boolean own) {
        this.units = units;
        this.readOnly = readOnly;
        this.own = own;
    }

    /** What it does after the commit comes before what others do then, so that they meet objects that are settled. */
    @Override
    public int getOrder() {
        return HIGHEST_PRECEDENCE + 100;
    }

    /**
     * The unit, with what is left of the transaction's time.
     *
     * @throws org.springframework.transaction.TransactionTimedOutException when nothing is left
     */
    UnitOfWork unit() {
        if (ended) {
            throw new IllegalTransactionStateException(
                    "the transaction of this unit of work has ended; what comes after"
                            + " it needs a transaction of its own: Propagation.REQUIRES_NEW");
        }
        long left = millisLeft();
        if (unit == null) {
            Terms terms = readOnly ? Terms.reading() : Terms.retrying(1);
            connection = DataSourceUtils.getConnection(units.source());
            unit = units.store().join(connection, left > 0 ? terms.statementTimeout(Duration.ofMillis(left)) : terms);
        }
        return unit;
    }

    /** 0 where the transaction has no timeout. */
    private long millisLeft() {
        ConnectionHolder holder = (ConnectionHolder) TransactionSynchronizationManager.getResource(units.source());
        return holder != null && holder.hasTimeout() ? holder.getTimeToLiveInMillis() : 0;
    }

    /** Writes what is pending; errors are Spring's. Called by {@code TransactionStatus.flush()} as well. */
    @Override
    public void flush() {
        if (unit != null && !ended) {
            millisLeft();
            try {
                unit.flush();
            } catch (BathraException e) {
                throw SpringErrors.of(e);
            }
        }
    }

    /** Whether somebody has failed who takes part in the transaction, so that it can only be rolled back. */
    boolean isDoomed() {
        ConnectionHolder holder = (ConnectionHolder) TransactionSynchronizationManager.getResource(units.source());
        return holder != null && holder.isRollbackOnly();
    }

    // ---- nested transactions, which are savepoints

    /** What is pending belongs to what was before; what comes is taken back with the nested transaction. */
    void nestedBegins() {
        flush();
        nested.push(Optional.ofNullable(unit).map(UnitOfWork::savepoint));
    }

    void nestedEnds() {
        nested.pop();
    }

    /** The database has gone back to the savepoint that was set right behind the unit's. */
    void nestedWentBack() {
        Optional<Savepoint> place = nested.pop();
        if (place.isPresent()) {
            place.get().wentBack();
        } else if (unit != null) {
            tell(unit, Outcome.ROLLED_BACK); // it has known nothing but what is taken back
            letGo(); // whoever asks next gets another one
        }
    }

    // ---- how it ends

    @Override
    public void afterCommit() {
        if (own) {
            settle(Outcome.COMMITTED);
        }
    }

    @Override
    public void afterCompletion(int status) {
        if (own) {
            end(
                    switch (status) {
                        case STATUS_COMMITTED -> Outcome.COMMITTED;
                        case STATUS_ROLLED_BACK -> Outcome.ROLLED_BACK;
                        default -> Outcome.UNKNOWN;
                    });
        }
    }

    /**
     * The last that is heard of the transaction. Where the synchronizations are those of another one, which ends later,
     * it is the first, too. Until now whoever asks for a unit is told that the transaction has ended.
     */
    void managerIsDone(Outcome outcome) {
        unbind();
        gone = true;
        if (!own) {
            end(outcome);
        }
    }

    private void settle(Outcome outcome) {
        if (!ended) {
            ended = true;
            if (unit != null) {
                tell(unit, outcome);
            }
        }
    }

    private static void tell(UnitOfWork unit, Outcome outcome) {
        try {
            unit.ended(outcome);
            if (outcome == Outcome.ROLLED_BACK) {
                unit.discard(); // nobody can mend and try again in this unit
            }
        } catch (UnitStateException e) {
            // broken, and nothing is left to be told
        }
    }

    private void end(Outcome outcome) {
        try {
            settle(outcome);
        } finally {
            letGo();
        }
    }

    private void letGo() {
        if (unit != null) {
            unit.close();
            unit = null;
            DataSourceUtils.releaseConnection(connection, units.source());
        }
    }

    // ---- the thread

    /** From now on it is the thread's current one. */
    void bind() {
        unbind(); // one whose end nobody has told of
        TransactionSynchronizationManager.bindResource(units, this);
    }

    private void unbind() {
        TransactionSynchronizationManager.unbindResourceIfPossible(units);
    }

    @Override
    public void suspend() {
        if (!gone) {
            unbind();
        }
    }

    @Override
    public void resume() {
        if (!gone) {
            bind();
        }
    }
}
