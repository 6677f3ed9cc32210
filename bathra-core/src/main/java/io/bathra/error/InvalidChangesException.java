package io.bathra.error;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** Pending changes that cannot be stored, all of them at once. Nothing was written, and nothing is lost. */
public sealed class InvalidChangesException extends BathraException permits RestrictViolation {
    private final List<Problem> problems;

    public InvalidChangesException(List<Problem> problems) {
        this(problems, null);
    }

    InvalidChangesException(List<Problem> problems, @Nullable Throwable cause) {
        super(
                "nothing was written, because of "
                        + (problems.size() == 1 ? "a problem" : problems.size() + " problems")
                        + ":\n  - "
                        + String.join(
                                "\n  - ",
                                problems.stream().map(Problem::toString).toList()),
                cause);
        this.problems = List.copyOf(problems);
    }

    /** Every problem that was found. */
    public List<Problem> problems() {
        return problems;
    }
}
