package io.bathra.error;

/** No connection to the database could be had. */
public final class DatabaseUnreachableException extends BathraException {
    /**
     * Made by the library, where it happens.
     *
     * @param message what happened, where, and what to do
     * @param cause what was behind it; null for nothing
     */
    public DatabaseUnreachableException(String message, Throwable cause) {
        super(message, cause);
    }

    /** A server that is restarting comes back. */
    @Override
    public boolean isRetryable() {
        return true;
    }
}
