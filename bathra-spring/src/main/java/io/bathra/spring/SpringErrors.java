package io.bathra.spring;

import io.bathra.error.AfterCommitException;
import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.ConstraintViolation;
import io.bathra.error.ContentionException;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.LockTimeout;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.NotExactlyOneException;
import io.bathra.error.StatementCancelled;
import io.bathra.error.StatementException;
import io.bathra.error.StatementTimeout;
import io.bathra.error.TooManyStatementsException;
import io.bathra.error.UniqueViolation;
import io.bathra.error.UnorderableChangesException;
import org.jspecify.annotations.Nullable;
import org.springframework.dao.CannotAcquireLockException;
import org.springframework.dao.DataAccessException;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.dao.EmptyResultDataAccessException;
import org.springframework.dao.IncorrectResultSizeDataAccessException;
import org.springframework.dao.InvalidDataAccessApiUsageException;
import org.springframework.dao.InvalidDataAccessResourceUsageException;
import org.springframework.dao.OptimisticLockingFailureException;
import org.springframework.dao.PessimisticLockingFailureException;
import org.springframework.dao.QueryTimeoutException;
import org.springframework.dao.support.PersistenceExceptionTranslator;

/** Bathra's exceptions in the terms of Spring's data access, each with the one that it is made of as its cause. */
final class SpringErrors implements PersistenceExceptionTranslator {
    @Override
    public @Nullable DataAccessException translateExceptionIfPossible(RuntimeException e) {
        return e instanceof BathraException own ? translated(own) : null;
    }

    /** What is thrown in place of an exception, or the same where Spring has no word for it. */
    static RuntimeException of(BathraException e) {
        DataAccessException translated = translated(e);
        return translated == null ? e : translated;
    }

    private static @Nullable DataAccessException translated(BathraException e) {
        String message = e.getMessage();
        if (e instanceof UniqueViolation) {
            return new DuplicateKeyException(message, e);
        } else if (e instanceof ConstraintViolation
                || e instanceof InvalidChangesException
                || e instanceof UnorderableChangesException) {
            return new DataIntegrityViolationException(message, e);
        } else if (e instanceof ConcurrentChangeException) {
            return new OptimisticLockingFailureException(message, e);
        } else if (e instanceof LockTimeout) {
            return new CannotAcquireLockException(message, e);
        } else if (e instanceof ContentionException) { // deadlocks, and transactions that have no order
            return new PessimisticLockingFailureException(message, e);
        } else if (e instanceof StatementTimeout || e instanceof StatementCancelled) {
            return new QueryTimeoutException(message, e);
        } else if (e instanceof ConnectionLostException
                || e instanceof DatabaseUnreachableException
                || e instanceof CommitUnknownException) {
            return new DataAccessResourceFailureException(message, e);
        } else if (e instanceof NoSuchRowException) {
            return new EmptyResultDataAccessException(message, 1, e);
        } else if (e instanceof NotExactlyOneException found) {
            return found.found() == 0
                    ? new EmptyResultDataAccessException(message, 1, e)
                    : new IncorrectResultSizeDataAccessException(message, 1, (int) found.found(), e);
        } else if (e instanceof StatementException) {
            return new InvalidDataAccessResourceUsageException(message, e);
        } else if (e instanceof AfterCommitException || e instanceof TooManyStatementsException) {
            return null; // what has failed is no access to data
        } else {
            return new InvalidDataAccessApiUsageException(message, e);
        }
    }
}
