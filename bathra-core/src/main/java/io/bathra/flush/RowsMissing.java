package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.plan.Step;
import java.util.List;
import java.util.stream.Collectors;

/** Fewer rows were written than a step wanted to write. */
final class RowsMissing extends RuntimeException {
    private static final int MOST_NAMED = 5;

    private final transient Step step;

    RowsMissing(Step step) {
        super(step.toString());
        this.step = step;
    }

    Step step() {
        return step;
    }

    /** The same for others, where the rows cannot be looked at any more. */
    ConcurrentChangeException unexplained() {
        List<String> lost = step.changes().stream()
                .map(change -> change.entry() + " (changed or removed by somebody else)")
                .toList();
        ConcurrentChangeException told =
                new ConcurrentChangeException(step.operation().toString(), lost, List.of());
        for (Throwable meanwhile : getSuppressed()) {
            told.addSuppressed(meanwhile);
        }
        return told;
    }

    /** The same where the rows are as they should be, and yet they were not written. Trying again is of no use. */
    BathraException heldBack() {
        return new BathraException("the database did not " + step.operation() + " "
                + step.changes().stream()
                        .limit(MOST_NAMED)
                        .map(change -> change.entry().toString())
                        .collect(Collectors.joining(", "))
                + (step.changes().size() > MOST_NAMED ? " and others" : "")
                + ", though nobody else has changed anything there; look for a trigger, a rule or a policy on the table '"
                + step.entity().table() + "' that holds rows back");
    }
}
