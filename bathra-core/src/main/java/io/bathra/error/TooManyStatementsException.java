package io.bathra.error;

/** A block has executed more statements than were expected of it. */
public final class TooManyStatementsException extends BathraException {
    public TooManyStatementsException(String message) {
        super(message);
    }
}
