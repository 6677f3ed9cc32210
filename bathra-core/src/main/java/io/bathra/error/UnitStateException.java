package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** A call that a unit of work cannot take in its present state: it is closed, or broken by an earlier failure. */
public final class UnitStateException extends BathraException {
    /** Whether it may be tried again. */
    private final boolean retryable;

    /**
     * Made by the library, where it happens.
     *
     * @param message what happened, where, and what to do
     * @param failure why it has failed
     */
    public UnitStateException(String message, @Nullable BathraException failure) {
        super(message, failure);
        retryable = failure != null && failure.isRetryable();
    }

    @Override
    public boolean isRetryable() {
        return retryable;
    }
}
