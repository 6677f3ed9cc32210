package io.bathra.error;

/** A query for exactly one row found none, or several. */
public final class NotExactlyOneException extends BathraException {
    private final long found;

    public NotExactlyOneException(String query, long found) {
        super("exactly one row was asked for, but " + (found == 0 ? "none is" : found + " are") + " there: " + query
                + "; " + (found == 0 ? "use first() where none is allowed" : "narrow the conditions, or use list()"));
        this.found = found;
    }

    /** How many rows there are. */
    public long found() {
        return found;
    }
}
