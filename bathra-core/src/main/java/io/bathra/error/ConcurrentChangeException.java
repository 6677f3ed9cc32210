package io.bathra.error;

import java.util.List;

/** Rows that this unit wanted to change have been changed or removed by somebody else since they were read. */
public final class ConcurrentChangeException extends BathraException {
    private final List<String> rows;

    public ConcurrentChangeException(String operation, List<String> rows) {
        super("cannot " + operation + " " + String.join(", ", rows)
                + "; read again in a new unit of work and decide there");
        this.rows = List.copyOf(rows);
    }

    /** The rows that were lost: entity, key, and what happened to them. */
    public List<String> rows() {
        return rows;
    }

    @Override
    public boolean isRetryable() {
        return true;
    }
}
