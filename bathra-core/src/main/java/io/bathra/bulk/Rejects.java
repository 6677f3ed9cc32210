package io.bathra.bulk;

import io.bathra.error.Flaw;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.Problem;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Takes what is wrong with rows: hands it over where somebody wants it, else keeps it for an exception. */
final class Rejects {
    /** More would not be read. */
    private static final int MOST_PROBLEMS = 100;

    private final String entity;
    private final @Nullable Consumer<? super Rejection> taker;
    private final List<Problem> problems = new ArrayList<>();

    /** Those of the portion that is being written. */
    private final List<Rejection> waiting = new ArrayList<>();

    private long rejected;

    Rejects(String entity, @Nullable Consumer<? super Rejection> taker) {
        this.entity = entity;
        this.taker = taker;
    }

    /** Whether rows are rejected, and the others stored. */
    boolean areTaken() {
        return taker != null;
    }

    /** How many rows were rejected. */
    long count() {
        return rejected;
    }

    void add(BulkRow row, String attribute, @Nullable Object value, String reason) {
        add(row, attribute, value, Flaw.other(reason));
    }

    void add(BulkRow row, String attribute, @Nullable Object value, Flaw flaw) {
        if (!row.isRejected()) {
            row.reject();
            rejected++;
        }
        if (taker != null) {
            waiting.add(new Rejection(row.number, attribute, value, flaw));
        } else if (problems.size() < MOST_PROBLEMS) {
            problems.add(new Problem("row " + row.number + " of " + entity, attribute, value, flaw));
        }
    }

    /** Hands over those of a portion in the order of the rows. */
    void endOfPortion() {
        if (taker != null) {
            waiting.sort(Comparator.comparingLong(Rejection::row));
            waiting.forEach(taker);
            waiting.clear();
        }
    }

    /**
     * Ends the call where rows cannot be stored and nobody takes them.
     *
     * @throws InvalidChangesException with every problem so far
     */
    void refuse() {
        if (!problems.isEmpty()) {
            throw new InvalidChangesException(problems);
        }
    }
}
