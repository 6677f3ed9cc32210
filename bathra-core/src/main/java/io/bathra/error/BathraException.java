package io.bathra.error;

import org.jspecify.annotations.Nullable;

/** The root of all exceptions that Bathra throws on purpose. */
public class BathraException extends RuntimeException {
    public BathraException(String message) {
        super(message);
    }

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
