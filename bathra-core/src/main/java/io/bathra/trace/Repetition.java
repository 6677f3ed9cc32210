package io.bathra.trace;

import java.util.List;
import java.util.stream.Collectors;

/**
 * Statements of one shape that ran again and again, where one for all might do.
 *
 * @param sql the statement; lists of placeholders are cut to one
 * @param times how often it ran
 * @param rows how many rows that were altogether
 * @param nanos the time that it took altogether, in nanoseconds
 * @param causes what it ran for, the first few
 * @param fix what would make one statement of them
 */
public record Repetition(String sql, int times, long rows, long nanos, List<String> causes, String fix) {
    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param sql the statement; lists of placeholders are cut to one
     * @param times how often it ran
     * @param rows how many rows that were altogether
     * @param nanos the time that it took altogether, in nanoseconds
     * @param causes what it ran for, the first few
     * @param fix what would make one statement of them
     */
    public Repetition {
        causes = List.copyOf(causes);
    }

    /**
     * {@return the statements of one shape among some that ran more than some times, the most frequent first}
     *
     * @param times how often is still all right
     * @param statements the statements
     */
    public static List<Repetition> among(List<TraceLine> statements, int times) {
        return Repetitions.in(statements, times);
    }

    /**
     * {@return the shape of a statement: however many values are in a list, and rows in a statement, it is the same}
     *
     * @param sql the statement
     */
    public static String shapeOf(String sql) {
        return Repetitions.shape(sql);
    }

    @Override
    public String toString() {
        return String.format("%d times, %d rows, %.1f ms: %s%n", times, rows, nanos / 1e6, sql)
                + causes.stream()
                        .collect(Collectors.joining(
                                "; ", "  for: ", causes.size() == Repetitions.MOST_CAUSES ? "; ..." : ""))
                + String.format("%n  fix: %s", fix);
    }
}
