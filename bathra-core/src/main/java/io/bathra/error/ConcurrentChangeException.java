package io.bathra.error;

import java.util.List;
import java.util.stream.Collectors;

/** Rows that this unit wanted to change have been changed or removed by somebody else since they were read. */
public final class ConcurrentChangeException extends BathraException {
    /** The rows that were lost. */
    private final List<String> rows;
    /** What others have changed. */
    private final List<Conflict> conflicts;

    /**
     * @param operation what the unit was about to do
     * @param rows the rows that were lost, with what happened to them
     * @param conflicts what is there now, attribute by attribute
     */
    public ConcurrentChangeException(String operation, List<String> rows, List<Conflict> conflicts) {
        super("cannot " + operation + " " + String.join(", ", rows)
                + conflicts.stream().map(conflict -> "\n  - " + conflict).collect(Collectors.joining())
                + "\nread again in a new unit of work and decide there, or carry on with rebase() where the others have"
                + " changed other attributes");
        this.rows = List.copyOf(rows);
        this.conflicts = List.copyOf(conflicts);
    }

    /** {@return the rows that were lost: entity, key, and what happened to them} */
    public List<String> rows() {
        return rows;
    }

    /**
     * {@return what was read, what this unit wants and what is there now, for each attribute that somebody has changed}
     */
    public List<Conflict> conflicts() {
        return conflicts;
    }

    @Override
    public boolean isRetryable() {
        return true;
    }
}
