package io.bathra.trace;

import io.bathra.error.TooManyStatementsException;
import java.util.List;
import java.util.stream.Collectors;

/**
 * How many statements a block may execute. Made by {@link Trace#expectAtMost}.
 *
 * <pre>{@code
 * try (var budget = work.trace().expectAtMost(3)) {
 *     show(work.from(PortCall.class).list());
 * }
 * }</pre>
 */
public final class StatementBudget implements AutoCloseable {
    private static final int MOST_SHOWN = 20;

    private final Trace trace;
    private final int most;
    private final int before;
    private final int line;
    private boolean closed;

    StatementBudget(Trace trace, int most) {
        this.trace = trace;
        this.most = most;
        this.before = trace.executed();
        this.line = trace.count();
    }

    /** {@return how many statements have been executed since} */
    public int used() {
        return trace.executed() - before;
    }

    /**
     * Ends the block. A second call does nothing.
     *
     * @throws TooManyStatementsException when more statements were executed than expected, with what they were, and
     * what would
     *     make fewer of them
     */
    @Override
    public void close() {
        int used = used();
        if (closed || used <= most) {
            closed = true;
            return;
        }
        closed = true;
        List<TraceLine> lines =
                trace.statements().stream().filter(one -> one.number() > line).toList();
        String shown = lines.stream().limit(MOST_SHOWN).map(TraceLine::toString).collect(Collectors.joining("\n"));
        String repeated =
                Repetitions.in(lines, 1).stream().map(Repetition::toString).collect(Collectors.joining("\n"));
        throw new TooManyStatementsException(
                "at most " + most + (most == 1 ? " statement was" : " statements were") + " expected, but " + used
                        + " were executed:\n" + shown + (lines.size() > MOST_SHOWN ? "\n ..." : "")
                        + (repeated.isEmpty() ? "" : "\nrepeated:\n" + repeated));
    }
}
