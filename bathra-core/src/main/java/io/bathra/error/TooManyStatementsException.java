package io.bathra.error;

/** A block has executed more statements than were expected of it. */
public final class TooManyStatementsException extends BathraException {
    /**
     * Made by the library, where it happens.
     *
     * @param message what happened, where, and what to do
     */
    public TooManyStatementsException(String message) {
        super(message);
    }
}
