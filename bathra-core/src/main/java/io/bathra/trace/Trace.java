package io.bathra.trace;

import io.bathra.trace.Executed.Kind;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.List;
import java.util.stream.Collectors;

/**
 * What one unit of work has executed, in order, with begin and commit. Keeps the latest lines, up to a limit.
 *
 * <p>Not for use by several threads at once.
 */
public class Trace {
    /** Enough for any unit that a person reads, and about two megabytes at most. */
    private static final int LIMIT = 10_000;

    /** A statement that runs so often is no loop. */
    private static final int FEW = 3;

    private final Deque<Note> notes = new ArrayDeque<>(7);
    private int count;
    private int dropped;
    private int executed;

    /** What was noted of something that was executed; a line is made of it when somebody reads it. */
    protected interface Note {
        /** {@return what happened} */
        Kind kind();

        /** {@return why} */
        CharSequence cause();

        /** {@return what was executed} */
        Executed executed();
    }

    /** An empty trace, which whoever executes writes. */
    protected Trace() {}

    /** {@return the lines that are kept, oldest first} */
    public final List<TraceLine> lines() {
        List<TraceLine> lines = new ArrayList<>(notes.size());
        int number = count - notes.size();
        for (Note note : notes) {
            lines.add(new TraceLine(++number, note.executed(), note.cause().toString()));
        }
        return Collections.unmodifiableList(lines);
    }

    /** {@return the statements among the lines; begin, commit and answers from memory are left out} */
    public final List<TraceLine> statements() {
        return lines().stream().filter(line -> line.kind() == Kind.STATEMENT).toList();
    }

    /** {@return how many lines have been dropped to make room for later ones} */
    public final int dropped() {
        return dropped;
    }

    /**
     * {@return statements of one shape that ran more than three times, the most frequent first, each with what would
     * fix it}
     */
    public final List<Repetition> repeated() {
        return repeated(FEW);
    }

    /**
     * {@return statements of one shape that ran more than some times, the most frequent first}
     *
     * @param times how often is still all right
     */
    public final List<Repetition> repeated(int times) {
        return Repetitions.in(statements(), times);
    }

    /**
     * Begins a block in which at most so many statements are expected; closing it throws when there were more. Begin,
     * commit and the like, and answers from memory, do not count.
     *
     * @param statements how many
     * @return the budget, which is closed where the block ends
     * @throws IllegalArgumentException when the number is negative
     */
    public final StatementBudget expectAtMost(int statements) {
        if (statements < 0) {
            throw new IllegalArgumentException(
                    "expectAtMost(" + statements + "): a block executes no statement at least");
        }
        return new StatementBudget(this, statements);
    }

    /** How many statements were executed so far, those among them whose lines were dropped. */
    int executed() {
        return executed;
    }

    /** The number of the latest line. */
    int count() {
        return count;
    }

    /** Forgets the lines, to look at what comes next by itself. Numbers go on. */
    public final void clear() {
        notes.clear();
    }

    /**
     * Adds a line; called by whatever has executed something.
     *
     * @param note what happened
     */
    protected final void add(Note note) {
        if (notes.size() == LIMIT) {
            notes.removeFirst();
            dropped++;
        }
        executed += note.kind() == Kind.STATEMENT ? 1 : 0;
        count++;
        notes.addLast(note);
    }

    @Override
    public String toString() {
        return lines().stream().map(TraceLine::toString).collect(Collectors.joining("\n"));
    }
}
