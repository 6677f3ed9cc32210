package io.bathra.error;

/** No connection to the database could be had. */
public final class DatabaseUnreachableException extends BathraException {
    public DatabaseUnreachableException(String message, Throwable cause) {
        super(message, cause);
    }

    /** A server that is restarting comes back. */
    @Override
    public boolean isRetryable() {
        return true;
    }
}
