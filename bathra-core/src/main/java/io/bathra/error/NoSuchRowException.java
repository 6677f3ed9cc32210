package io.bathra.error;

/** A row that was required is not there. */
public final class NoSuchRowException extends BathraException {
    /**
     * Made by the library, where it happens.
     *
     * @param message what happened, where, and what to do
     */
    public NoSuchRowException(String message) {
        super(message);
    }
}
