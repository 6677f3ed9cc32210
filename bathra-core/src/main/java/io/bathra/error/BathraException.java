package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** The root of all exceptions that Bathra throws on purpose. */
public class BathraException extends RuntimeException {
    /**
     * Made by the library, where it happens.
     *
     * @param message what happened, where, and what to do
     */
    public BathraException(String message) {
        super(message);
    }

    /**
     * Made by the library, where it happens.
     *
     * @param message what happened, where, and what to do
     * @param cause what was behind it; null for nothing
     */
    public BathraException(String message, @Nullable Throwable cause) {
        super(message, cause);
    }

    /**
     * Whether the same work, done again in a new unit of work, may well succeed: after a deadlock, say.
     *
     * @return false unless a subclass knows better
     */
    public boolean isRetryable() {
        return false;
    }
}
