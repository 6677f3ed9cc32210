package io.bathra.error;

/** A row that was required is not there. */
public final class NoSuchRowException extends BathraException {
    public NoSuchRowException(String message) {
        super(message);
    }
}
