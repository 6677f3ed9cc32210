package io.bathra.error;

import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Pending changes that cannot be stored, all of them at once. Nothing was written, and nothing is lost. */
public sealed class InvalidChangesException extends BathraException permits RestrictViolation {
    /** A message is read by somebody; all of them are in the list. */
    private static final int MOST_TOLD = 30;

    /** All that is wrong. */
    private final List<Problem> problems;

    /**
     * Made by the library, where it happens.
     *
     * @param problems all that is wrong
     */
    public InvalidChangesException(List<Problem> problems) {
        this(problems, null);
    }

    InvalidChangesException(List<Problem> problems, @Nullable Throwable cause) {
        super(
                "nothing was written, because of "
                        + (problems.size() == 1 ? "a problem" : problems.size() + " problems")
                        + ":\n  - "
                        + told(problems),
                cause);
        this.problems = List.copyOf(problems);
    }

    private static String told(List<Problem> problems) {
        String told = problems.stream().limit(MOST_TOLD).map(Problem::toString).collect(Collectors.joining("\n  - "));
        return problems.size() <= MOST_TOLD
                ? told
                : told + "\n  and " + (problems.size() - MOST_TOLD) + " more, which problems() has";
    }

    /** {@return every problem that was found} */
    public List<Problem> problems() {
        return problems;
    }
}
