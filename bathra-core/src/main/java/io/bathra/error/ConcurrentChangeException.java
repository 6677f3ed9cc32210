package io.bathra.error;

import java.util.List;

/** Rows that this unit wanted to change are not there any more: somebody else removed them in the meantime. */
public final class ConcurrentChangeException extends BathraException {
    private final List<String> rows;

    public ConcurrentChangeException(String operation, List<String> rows) {
        super("cannot " + operation + " " + String.join(", ", rows)
                + ": no such row any more, somebody else removed it;"
                + " read again in a new unit of work and decide there");
        this.rows = List.copyOf(rows);
    }

    /** The rows that are gone, as entity and key. */
    public List<String> rows() {
        return rows;
    }

    @Override
    public boolean isRetryable() {
        return true;
    }
}
