package io.bathra.ledger;

import io.bathra.error.BathraException;
import io.bathra.ledger.Ledger.Line;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Holds the files beside the ledger: what is done, what is open, and what is still to come. */
final class Pending {
    private Pending() {}

    /**
     * The files that are still to come; the first one may have begun.
     *
     * @throws BathraException when the ledger knows other files, or others of the same names
     */
    static List<FileSteps> of(List<FileSteps> files, List<Line> lines, @Nullable String until) {
        int done = 0;
        for (Line line : lines) {
            if (done == files.size()) {
                throw new BathraException("this database has had '" + line.name()
                        + "', which is not among the files; get it" + " from where it was applied");
            }
            FileSteps file = files.get(done);
            if (!file.name().equals(line.name())) {
                boolean known = files.stream().anyMatch(one -> one.name().equals(line.name()));
                throw new BathraException(
                        "this database has had '" + line.name() + "' where the files have '" + file.name()
                                + "'; "
                                + (known
                                        ? "the files were put in another order after they were applied: put them back"
                                        : "the former is not among the files: get it from where it was applied"));
            }
            if (!file.fingerprint().equals(line.fingerprint()) && !line.isUntouched()) {
                throw new BathraException("'" + line.name() + "' was changed after it was "
                        + (line.isDone() ? "applied on " + line.endedAt() : "begun on " + line.begunAt())
                        + "; put back what was applied, and write a file of its own for what is to change");
            }
            if (!line.isDone()) {
                break;
            }
            done++;
        }
        int end = files.size();
        if (until != null) {
            List<String> names = files.stream().map(FileSteps::name).toList();
            end = names.indexOf(until) + 1;
            if (end == 0) {
                throw new BathraException("there is no file '" + until + "'; there is " + String.join(", ", names));
            }
        }
        return done >= end ? List.of() : files.subList(done, end);
    }

    /** The line of a file that has begun and is not done. */
    static @Nullable Line open(List<Line> lines) {
        Line last = lines.isEmpty() ? null : lines.get(lines.size() - 1);
        return last == null || Objects.requireNonNull(last).isDone() ? null : last;
    }
}
