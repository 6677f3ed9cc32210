package io.bathra.error;

/** A query for exactly one row found none, or several. */
public final class NotExactlyOneException extends BathraException {
    /** How many rows there were. */
    private final long found;

    /**
     * Made by the library, where it happens.
     *
     * @param query what was asked
     * @param found how many there were
     */
    public NotExactlyOneException(String query, long found) {
        super("exactly one row was asked for, but " + (found == 0 ? "none is" : found + " are") + " there: " + query
                + "; " + (found == 0 ? "use first() where none is allowed" : "narrow the conditions, or use list()"));
        this.found = found;
    }

    /** {@return how many rows there are} */
    public long found() {
        return found;
    }
}
