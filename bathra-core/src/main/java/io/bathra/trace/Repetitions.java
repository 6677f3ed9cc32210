package io.bathra.trace;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

/** Finds statements of one shape among the lines of a trace. */
final class Repetitions {
    private static final Pattern PLACEHOLDERS = Pattern.compile("(\\?(?:::[a-z\\[\\]]+)?)(?:, \\1)+");
    private static final Pattern ROWS = Pattern.compile("(\\([^()]*\\?[^()]*\\))(?:, \\1)+");
    static final int MOST_CAUSES = 3;

    private Repetitions() {}

    /**
     * The shapes that ran more often than some times, the most frequent first.
     *
     * @param times how often is still all right
     */
    static List<Repetition> in(List<TraceLine> statements, int times) {
        Map<String, List<TraceLine>> byShape = new LinkedHashMap<>();
        for (TraceLine line : statements) {
            byShape.computeIfAbsent(shape(line.sql()), shape -> new ArrayList<>())
                    .add(line);
        }
        List<Repetition> repetitions = new ArrayList<>();
        byShape.forEach((shape, lines) -> {
            if (lines.size() > times) {
                repetitions.add(repetition(shape, lines));
            }
        });
        repetitions.sort(Comparator.comparingInt(Repetition::times).reversed());
        return repetitions;
    }

    private static Repetition repetition(String shape, List<TraceLine> lines) {
        return new Repetition(
                shape,
                lines.size(),
                lines.stream().mapToLong(TraceLine::rows).sum(),
                lines.stream().mapToLong(line -> line.time().toNanos()).sum(),
                lines.stream()
                        .map(TraceLine::cause)
                        .distinct()
                        .limit(MOST_CAUSES)
                        .toList(),
                lines.get(lines.size() - 1).executed().fix());
    }

    /** However many values are in a list, and rows in a statement, the shape is the same. */
    static String shape(String sql) {
        String one = PLACEHOLDERS.matcher(sql).replaceAll("$1");
        return ROWS.matcher(one).replaceAll("$1");
    }
}
