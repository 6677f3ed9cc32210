package io.bathra.cli.session;

import io.bathra.cli.session.Printed.Line;
import io.bathra.cli.session.Printed.Look;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntUnaryOperator;

/** Rows and columns as lines of text that fit a terminal; numbers to the right. */
final class Grid {
    private static final String GAP = "  ";
    private static final int WIDEST = 60;

    /** No column is made narrower than this, unless it is. */
    private static final int NARROWEST = 8;

    private final List<String> heads;
    private final List<List<String>> rows = new ArrayList<>();

    Grid(List<String> heads) {
        this.heads = heads.stream().map(Cells::safe).toList();
    }

    /** A row of as many cells as there are heads. */
    void row(List<String> cells) {
        rows.add(cells.stream().map(Cells::safe).toList());
    }

    /** The lines; what has no room in the width is named in the last one. */
    Printed printed(int width) {
        int[] widths = widths();
        int[] cells = widths.clone();
        for (int column = 0; column < widths.length; column++) {
            widths[column] = Math.max(widths[column], Cells.width(heads.get(column)));
        }
        int shown = fit(widths, cells, width);
        boolean[] right = new boolean[shown];
        for (int column = 0; column < shown; column++) {
            right[column] = isOfNumbers(column);
        }
        List<Line> lines = new ArrayList<>();
        lines.add(new Line(line(heads, widths, right), Look.HEAD));
        rows.forEach(row -> lines.add(new Line(line(row, widths, right), Look.PLAIN)));
        if (shown < heads.size()) {
            List<String> words = new ArrayList<>(List.of("no", "room", "for"));
            List<String> rest = heads.subList(shown, heads.size());
            for (int i = 0; i < rest.size(); i++) {
                words.add(rest.get(i) + (i == rest.size() - 1 ? "" : ","));
            }
            lines.addAll(Printed.of(Look.FAINT, Cells.wrapped(words, width, "")).lines());
        }
        return new Printed(lines);
    }

    private int[] widths() {
        int[] widths = new int[heads.size()];
        for (int column = 0; column < widths.length; column++) {
            widths[column] = 1;
            for (List<String> row : rows) {
                widths[column] = Math.max(widths[column], Math.min(WIDEST, Cells.width(row.get(column))));
            }
        }
        return widths;
    }

    /** Makes columns narrower until all fit: long heads first, then prose, then all; says how many columns do. */
    private int fit(int[] widths, int[] cells, int width) {
        int total = GAP.length() * (widths.length - 1);
        for (int one : widths) {
            total += one;
        }
        while (total > width) {
            int narrowed = widest(widths, column -> widths[column] - Math.max(NARROWEST, cells[column]));
            if (narrowed < 0) {
                narrowed = widest(widths, column -> isProse(column) ? widths[column] - NARROWEST : 0);
            }
            if (narrowed < 0) {
                narrowed = widest(widths, column -> widths[column] - NARROWEST);
            }
            if (narrowed < 0) {
                break;
            }
            widths[narrowed]--;
            total--;
        }
        int shown = widths.length;
        while (shown > 1 && total > width) {
            shown--;
            total -= widths[shown] + GAP.length();
        }
        return shown;
    }

    /** The column that has most to give; -1 where none has anything. */
    private static int widest(int[] widths, IntUnaryOperator spare) {
        int widest = -1;
        int most = 0;
        for (int column = 0; column < widths.length; column++) {
            int one = spare.applyAsInt(column);
            if (one > most) {
                widest = column;
                most = one;
            }
        }
        return widest;
    }

    /** Texts of several words, of which the beginning says something. */
    private boolean isProse(int column) {
        return rows.stream().anyMatch(row -> row.get(column).indexOf(' ') >= 0);
    }

    private boolean isOfNumbers(int column) {
        boolean some = false;
        for (List<String> row : rows) {
            String cell = row.get(column);
            if (cell.equals(Face.NONE)) {
                continue;
            }
            if (!isNumber(cell)) {
                return false;
            }
            some = true;
        }
        return some;
    }

    private static boolean isNumber(String cell) {
        if (cell.isEmpty()) {
            return false;
        }
        for (int i = 0; i < cell.length(); i++) {
            char c = cell.charAt(i);
            if ((c < '0' || c > '9') && c != '.' && c != '-' && !(c == '#' && i == 0)) {
                return false;
            }
        }
        return Character.isDigit(cell.charAt(cell.length() - 1));
    }

    private static String line(List<String> cells, int[] widths, boolean[] right) {
        StringBuilder line = new StringBuilder();
        for (int column = 0; column < right.length; column++) {
            line.append(column == 0 ? "" : GAP)
                    .append(Cells.filled(Cells.cut(cells.get(column), widths[column]), widths[column], right[column]));
        }
        return line.toString().stripTrailing();
    }
}
