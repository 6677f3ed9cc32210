package io.bathra;

import io.bathra.error.BathraException;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.flush.Attempts;
import io.bathra.flush.Environment;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.query.Sql;
import io.bathra.read.EntityReader;
import io.bathra.read.SqlLevel;
import io.bathra.sql.Dialect;
import io.bathra.sql.PlainText;
import java.util.Map;
import java.util.Objects;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * A transaction in plain SQL, without tracking. Begun by {@link Store#transaction}, which ends it: committed when the
 * work returns, rolled back when it throws. For one thread.
 */
public final class PlainTransaction {
    private final Environment environment;
    private final Transaction transaction;
    private final Attempts attempts;
    private final SqlLevel level = new Level();

    /** A failed statement, after which the database may have given up the whole. */
    private @Nullable StatementException unrecovered;

    private boolean ended;

    PlainTransaction(Environment environment, Transaction transaction, Attempts attempts) {
        this.environment = environment;
        this.transaction = transaction;
        this.attempts = attempts;
    }

    /**
     * A piece of work in plain SQL.
     *
     * @param <T> the answer
     * @param <X> the checked exception that it may throw
     */
    @FunctionalInterface
    public interface Work<T extends @Nullable Object, X extends Exception> {
        /**
         * {@return what the work answers}
         *
         * @param tx the transaction
         * @throws X when that fails
         */
        T apply(PlainTransaction tx) throws X;
    }

    /**
     * {@return a statement in plain SQL with named parameters, in this transaction}
     *
     * @param text the text
     */
    public SqlCall<Map<String, @Nullable Object>> sql(String text) {
        return sql(Sql.of(text));
    }

    /**
     * {@return a statement in plain SQL that was made before, in this transaction}
     *
     * @param <R> what each row becomes
     * @param statement the statement
     */
    public <R> SqlCall<R> sql(Sql<R> statement) {
        return new SqlCall<>(level, Objects.requireNonNull(statement, "statement"));
    }

    /**
     * Executes the statements of a script, which semicolons part, in this transaction.
     *
     * @param text the text
     * @return how many statements there were
     * @see Store#script
     */
    public int script(String text) {
        return SqlCall.script(level, Objects.requireNonNull(text, "text"));
    }

    /**
     * Does a piece of work within this one, by a savepoint. When it throws, the transaction goes back to where the
     * piece of work began, and can go on.
     *
     * @param <T> what the work answers
     * @param <X> the checked exception that the work may throw
     * @param task the work
     * @return what the work answers
     * @throws X when that fails
     */
    public <T extends @Nullable Object, X extends Exception> T call(Work<T, X> task) throws X {
        refuseEnded();
        refuseUnrecovered();
        int savepoint = transaction.savepoint("nested");
        try {
            T answer = task.apply(this);
            refuseUnrecovered();
            transaction.releaseSavepoint("nested", savepoint);
            return answer;
        } catch (Throwable e) {
            if (!(unrecovered != null && unrecovered.isTransactionGone())) {
                goBack(savepoint, e);
            }
            throw e;
        }
    }

    private void goBack(int savepoint, Throwable cause) {
        try {
            transaction.rollbackToSavepoint("nested", savepoint);
            transaction.releaseSavepoint("nested", savepoint);
            unrecovered = null;
        } catch (BathraException e) {
            cause.addSuppressed(e);
            unrecovered = e instanceof StatementException failed ? failed : unrecovered;
        }
    }

    void commit() {
        try {
            refuseUnrecovered();
            environment.commitTokens().commit(environment, transaction, attempts);
        } finally {
            ended = true;
        }
    }

    private void refuseEnded() {
        if (ended) {
            throw new UnitStateException(
                    "this transaction has ended; begin another one with store.transaction(...)", null);
        }
    }

    private void refuseUnrecovered() {
        if (unrecovered != null) {
            throw new UnitStateException(
                    "nothing was committed: a statement of this transaction has failed and the database may have given"
                            + " up the whole; let the exception out, or run what may fail within call(...)",
                    unrecovered);
        }
    }

    private final class Level implements SqlLevel {
        @Override
        public Mapping model() {
            return environment.model();
        }

        @Override
        public Dialect dialect() {
            return environment.dialect();
        }

        @Override
        public Transaction begin(PlainText text) {
            refuseEnded();
            text.refuseCommit(dialect());
            return transaction;
        }

        @Override
        public <T extends @Nullable Object> T reading(Supplier<T> read) {
            try {
                return read.get();
            } catch (StatementException e) {
                unrecovered = e;
                throw e;
            }
        }

        @Override
        public <T extends @Nullable Object> T writing(PlainText text, Supplier<T> write) {
            return reading(write);
        }

        @Override
        public void end(Transaction same, boolean done) {}

        @Override
        public EntityReader reader(Transaction same) {
            return EntityReader.untracked(model(), transaction);
        }
    }
}
