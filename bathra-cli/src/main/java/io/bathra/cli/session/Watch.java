package io.bathra.cli.session;

import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.Repetition;
import io.bathra.trace.StatementListener;
import io.bathra.trace.TraceLine;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What was executed: by the latest entry, and the latest statements before it. Any thread may execute. */
final class Watch implements StatementListener {
    private static final int MOST = 1_000;

    private final Deque<TraceLine> latest = new ArrayDeque<>();
    private int number;
    private int firstOfEntry;
    private int statements;
    private long rows;
    private long nanos;

    /** An entry begins. */
    synchronized void begin() {
        firstOfEntry = number + 1;
        statements = 0;
        rows = 0;
        nanos = 0;
    }

    @Override
    public @Nullable Ending started(Executed statement) {
        return this::ended;
    }

    private synchronized void ended(Executed statement, @Nullable Throwable failure) {
        if (statement.kind() == Kind.STATEMENT) {
            statements++;
            rows += statement.rows();
            nanos += statement.time().toNanos();
        }
        if (latest.size() == MOST) {
            latest.removeFirst();
        }
        latest.addLast(new TraceLine(++number, statement, statement.purpose()));
    }

    synchronized int statements() {
        return statements;
    }

    synchronized long rows() {
        return rows;
    }

    /** How long the database has taken for the latest entry. */
    synchronized long millis() {
        return nanos / 1_000_000;
    }

    /** What the latest entry has executed. */
    synchronized List<TraceLine> ofEntry() {
        return latest.stream().filter(line -> line.number() >= firstOfEntry).toList();
    }

    /** The latest of what was executed, oldest first. */
    synchronized List<TraceLine> latest(int most) {
        List<TraceLine> all = new ArrayList<>(latest);
        return List.copyOf(all.subList(Math.max(0, all.size() - most), all.size()));
    }

    /** Statements of one shape that the latest entry has executed again and again. */
    List<Repetition> repeated(int times) {
        return Repetition.among(
                ofEntry().stream().filter(line -> line.kind() == Kind.STATEMENT).toList(), times);
    }
}
