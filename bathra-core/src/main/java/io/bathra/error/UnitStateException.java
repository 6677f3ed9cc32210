package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** A call that a unit of work cannot take in its present state: it is closed, or broken by an earlier failure. */
public final class UnitStateException extends BathraException {
    private final boolean retryable;

    public UnitStateException(String message, @Nullable BathraException failure) {
        super(message, failure);
        retryable = failure != null && failure.isRetryable();
    }

    @Override
    public boolean isRetryable() {
        return retryable;
    }
}
