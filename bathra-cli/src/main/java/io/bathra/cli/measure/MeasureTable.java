package io.bathra.cli.measure;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** A report as text. */
public final class MeasureTable {
    private static final String[] HEADS = {"", "rows/s", "statements", "trips", "a row", "factor"};

    private static final int NARROW = 79;

    private MeasureTable() {}

    /** The lines of a report. */
    public static String of(Report report) {
        List<String[]> lines = new ArrayList<>();
        lines.add(HEADS);
        for (String group : report.groups()) {
            lines.add(new String[] {group, "", "", "", "", ""});
            report.results().stream()
                    .filter(result -> result.group().equals(group) && result.failure() == null)
                    .forEach(result -> lines.add(line(report, result)));
        }
        StringBuilder text = new StringBuilder(String.format(
                Locale.ROOT,
                "%,d rows of %s on %s, at most %d s for each way%n%n",
                report.rows(),
                report.entity(),
                report.database(),
                report.seconds()));
        int[] widths = new int[HEADS.length];
        lines.forEach(line -> {
            for (int i = 0; i < widths.length; i++) {
                widths[i] = Math.max(widths[i], line[i].length());
            }
        });
        for (String[] line : lines) {
            StringBuilder words = new StringBuilder();
            for (int i = 0; i < widths.length; i++) {
                String blanks = " ".repeat(widths[i] - line[i].length());
                words.append(i == 0 ? line[i] + blanks : "  " + blanks + line[i]);
            }
            text.append(words.toString().stripTrailing()).append(System.lineSeparator());
        }
        notes(report).forEach(note -> text.append(System.lineSeparator()).append(wrapped(note)));
        return text.toString().stripTrailing();
    }

    private static String[] line(Report report, Report.Result result) {
        return new String[] {
            "  " + result.way(),
            String.format(Locale.ROOT, result.perSecond() < 10 ? "%.1f%s" : "%,.0f%s", result.perSecond(), cut(result)),
            String.format(Locale.ROOT, "%,d", result.statements()),
            String.format(Locale.ROOT, "%,d", result.roundTrips()),
            micros(result.microsPerRow()),
            String.format(Locale.ROOT, report.factor(result) < 10 ? "%.1f" : "%,.0f", report.factor(result))
        };
    }

    private static String cut(Report.Result result) {
        return result.cut() ? "*" : "";
    }

    private static String micros(double micros) {
        return micros < 1_000
                ? String.format(Locale.ROOT, micros < 10 ? "%.1f us" : "%.0f us", micros)
                : String.format(Locale.ROOT, "%.1f ms", micros / 1_000);
    }

    /** In lines that fit the narrowest terminal. */
    private static String wrapped(String note) {
        StringBuilder lines = new StringBuilder();
        int at = 0;
        for (String word : note.split(" ")) {
            if (at > 0 && at + 1 + word.length() > NARROW) {
                lines.append(System.lineSeparator()).append("  ");
                at = 2;
            } else if (at > 0) {
                lines.append(' ');
                at++;
            }
            lines.append(word);
            at += word.length();
        }
        return lines.toString();
    }

    private static List<String> notes(Report report) {
        List<String> notes = new ArrayList<>();
        report.results().stream()
                .filter(result -> result.cut() && result.failure() == null)
                .forEach(result -> notes.add(String.format(
                        Locale.ROOT, "* its time was over: %s, after %,d rows", result.way(), result.rows())));
        notes.add("trips: round trips to the database; factor: how many times as many rows a second as the slowest way"
                + " of its kind");
        report.without().forEach((what, why) -> notes.add("not measured: " + what + ", since " + why));
        report.results().stream()
                .filter(result -> result.failure() != null)
                .forEach(result -> notes.add("not measured: " + result.way() + ": " + result.failure()));
        return notes;
    }
}
