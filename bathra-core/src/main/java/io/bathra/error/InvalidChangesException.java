package io.bathra.error;

import java.util.List;

/** Pending changes that cannot be stored, all of them at once. Thrown before any SQL is executed; nothing is lost. */
public final class InvalidChangesException extends BathraException {
    private final List<Problem> problems;

    public InvalidChangesException(List<Problem> problems) {
        super("nothing was written, because of " + (problems.size() == 1 ? "a problem" : problems.size() + " problems")
                + ":\n  - "
                + String.join("\n  - ", problems.stream().map(Problem::toString).toList()));
        this.problems = List.copyOf(problems);
    }

    /** Every problem that was found. */
    public List<Problem> problems() {
        return problems;
    }
}
