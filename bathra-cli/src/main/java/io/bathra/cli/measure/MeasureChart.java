package io.bathra.cli.measure;

import io.bathra.cli.canvas.Canvas;
import io.bathra.cli.canvas.PngCanvas;
import io.bathra.cli.canvas.Point;
import io.bathra.cli.canvas.Rect;
import io.bathra.cli.canvas.SvgCanvas;
import io.bathra.cli.canvas.Typeface;
import java.util.List;
import java.util.Locale;

/**
 * A report as bars: rows per second on a logarithmic scale, each with its figure beside it. On a ground of its own, so
 * that it can be read on a light page and on a dark one; the kinds of ways differ in lightness, so in grey as well.
 */
public final class MeasureChart {
    private static final double WIDTH = 1_000;
    private static final double MARGIN = 24;
    private static final double TITLE = 20;
    private static final double TEXT = 14;
    private static final double BAR = 20;
    private static final double STEP = 28;
    private static final double GROUP = 34;
    private static final double TOP = 84;
    private static final double BOTTOM = 46;
    private static final double FIGURE = 150;

    private static final int GROUND = 0xffffff;
    private static final int INK = 0x1f2933;
    private static final int FAINT = 0x5f6b7a;
    private static final int GRID = 0xd5dbe3;
    private static final int[] BARS = {0x1d5f8a, 0x6fa8cf, 0x9a6b1f};

    private final Report report;
    private final List<Report.Result> results;
    private final double left;
    private final double height;
    private final double least;
    private final double most;

    private MeasureChart(Report report) {
        this.report = report;
        results = report.results().stream().filter(result -> result.rows() > 0).toList();
        double widest = results.stream()
                .mapToDouble(result -> Typeface.width(result.way(), TEXT))
                .max()
                .orElse(0);
        left = MARGIN + widest + 12;
        height = TOP + groups().size() * GROUP + results.size() * STEP + BOTTOM;
        double slowest =
                results.stream().mapToDouble(Report.Result::perSecond).min().orElse(1);
        double fastest =
                results.stream().mapToDouble(Report.Result::perSecond).max().orElse(10);
        least = Math.floor(Math.log10(Math.max(slowest, 0.1)) - 0.3);
        most = Math.max(least + 1, Math.ceil(Math.log10(fastest)));
    }

    /** As SVG. */
    public static String svg(Report report) {
        MeasureChart chart = new MeasureChart(report);
        SvgCanvas canvas = new SvgCanvas(WIDTH, chart.height, chart.title());
        chart.paint(canvas);
        return canvas.text();
    }

    /** As PNG. */
    public static byte[] png(Report report) {
        MeasureChart chart = new MeasureChart(report);
        PngCanvas canvas = new PngCanvas(WIDTH, chart.height);
        chart.paint(canvas);
        return canvas.bytes();
    }

    private List<String> groups() {
        return report.groups().stream()
                .filter(group ->
                        results.stream().anyMatch(result -> result.group().equals(group)))
                .toList();
    }

    private String title() {
        return String.format(Locale.ROOT, "%s on %s: rows per second", report.entity(), report.database());
    }

    private double x(double perSecond) {
        double share = (Math.log10(perSecond) - least) / (most - least);
        return left + share * (WIDTH - MARGIN - FIGURE - left);
    }

    private void paint(Canvas canvas) {
        canvas.fill(new Rect(0, 0, WIDTH, height), GROUND);
        canvas.text(title(), new Point(MARGIN, MARGIN + TITLE), TITLE, INK);
        String terms = String.format(
                Locale.ROOT,
                "%,d rows, at most %d s for each way%s; logarithmic scale",
                report.rows(),
                report.seconds(),
                results.stream().anyMatch(Report.Result::cut) ? " (* fewer rows in that time)" : "");
        canvas.text(terms, new Point(MARGIN, MARGIN + TITLE + 24), TEXT, FAINT);
        grid(canvas);
        double y = TOP;
        int kind = 0;
        for (String group : groups()) {
            canvas.text(group, new Point(MARGIN, y + 22), TEXT, FAINT);
            y += GROUP;
            int colour = BARS[kind++ % BARS.length];
            for (Report.Result result : results) {
                if (result.group().equals(group)) {
                    bar(canvas, result, y, colour);
                    y += STEP;
                }
            }
        }
    }

    private void grid(Canvas canvas) {
        for (double power = least; power <= most; power++) {
            double x = x(Math.pow(10, power));
            canvas.line(List.of(new Point(x, TOP), new Point(x, height - BOTTOM + 6)), GRID, 1);
            String tick = power < 0
                    ? String.format(Locale.ROOT, "%.1f", Math.pow(10, power))
                    : String.format(Locale.ROOT, "%,.0f", Math.pow(10, power));
            canvas.text(tick, new Point(x - Typeface.width(tick, TEXT) / 2, height - BOTTOM + 26), TEXT, FAINT);
        }
    }

    private void bar(Canvas canvas, Report.Result result, double y, int colour) {
        double end = Math.max(left + 2, x(result.perSecond()));
        double base = y + BAR / 2 + TEXT * 0.36;
        canvas.text(result.way(), new Point(left - 12 - Typeface.width(result.way(), TEXT), base), TEXT, INK);
        canvas.fill(new Rect(left, y, end - left, BAR), colour);
        double factor = report.factor(result);
        String figure = String.format(
                        Locale.ROOT,
                        result.perSecond() < 10 ? "%.1f%s" : "%,.0f%s",
                        result.perSecond(),
                        result.cut() ? "*" : "")
                + (factor > 1.05 ? String.format(Locale.ROOT, factor < 10 ? "  (x %.1f)" : "  (x %,.0f)", factor) : "");
        canvas.text(figure, new Point(end + 8, base), TEXT, INK);
    }
}
