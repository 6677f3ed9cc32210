package io.bathra.cli.diagram;

import io.bathra.cli.canvas.Canvas;
import io.bathra.cli.canvas.Point;
import io.bathra.cli.canvas.Rect;
import io.bathra.cli.canvas.Typeface;
import io.bathra.cli.diagram.Diagram.Box;
import io.bathra.cli.diagram.Diagram.End;
import io.bathra.cli.diagram.Diagram.Kind;
import io.bathra.cli.diagram.Diagram.Line;
import io.bathra.cli.diagram.Diagram.Row;
import io.bathra.cli.diagram.Diagram.Rule;
import java.util.List;

/** Paints a diagram; what it paints and where is decided before. */
final class DiagramPainter {
    private static final int PAPER = 0xffffff;
    private static final int INK = 0x22303c;
    private static final int FAINT = 0x5d6b78;
    private static final int FRAME = 0x8795a1;
    private static final int HEADING = 0x1f4e6b;
    private static final int SUBHEADING = 0xc9dbe6;
    private static final int KEY = 0xeaf2f7;
    private static final double WIDTH = 1.5;
    private static final double FOOT = 12;
    private static final double TOES = 6;
    private static final double RING = 4;

    private final Canvas canvas;

    private DiagramPainter(Canvas canvas) {
        this.canvas = canvas;
    }

    static void paint(Diagram diagram, Canvas canvas) {
        DiagramPainter painter = new DiagramPainter(canvas);
        canvas.fill(new Rect(0, 0, diagram.width(), diagram.height()), PAPER);
        canvas.text(diagram.title(), new Point(DiagramLayout.MARGIN, 32), 18, INK);
        diagram.lines().forEach(painter::line);
        diagram.boxes().forEach(painter::box);
        diagram.lines().forEach(painter::ends);
        diagram.lines().forEach(painter::label);
        painter.legend(diagram.height() - DiagramLayout.MARGIN);
    }

    static int colour(Rule rule) {
        return switch (rule) {
            case RESTRICT -> 0x4a5a68;
            case SET_NULL -> 0xb0690b;
            case CASCADE -> 0xb3261e;
            case PIVOT -> 0x2a6fa3;
        };
    }

    private void box(Box box) {
        Rect place = box.place();
        double left = place.x() + DiagramLayout.PADDING;
        canvas.fill(place, PAPER);
        canvas.fill(
                new Rect(place.x(), place.y(), place.width(), DiagramLayout.HEAD),
                box.kind() == Kind.ENTITY ? HEADING : FAINT);
        canvas.text(box.title(), new Point(left, place.y() + 18), DiagramLayout.TITLE, PAPER);
        canvas.text(box.subtitle(), new Point(left, place.y() + 33), DiagramLayout.SMALL, SUBHEADING);
        double y = place.y() + DiagramLayout.HEAD;
        for (Row row : box.rows()) {
            if (row.key()) {
                canvas.fill(new Rect(place.x(), y, place.width(), DiagramLayout.LINE), KEY);
            }
            canvas.text(row.name(), new Point(left, y + 13), DiagramLayout.TEXT, INK);
            double right = place.x()
                    + place.width()
                    - DiagramLayout.PADDING
                    - Typeface.width(row.words(), DiagramLayout.SMALL);
            canvas.text(row.words(), new Point(right, y + 13), DiagramLayout.SMALL, FAINT);
            y += DiagramLayout.LINE;
        }
        canvas.frame(place, FRAME, box.kind() != Kind.ENTITY);
    }

    private void line(Line line) {
        canvas.line(line.points(), colour(line.rule()), WIDTH);
    }

    private void ends(Line line) {
        List<Point> points = line.points();
        end(points.get(0), points.get(1), line.from(), colour(line.rule()));
        end(points.get(points.size() - 1), points.get(points.size() - 2), line.to(), colour(line.rule()));
    }

    /** A bar for one, a ring for one or none, toes for many. */
    private void end(Point at, Point towards, End end, int colour) {
        double length = Math.hypot(towards.x() - at.x(), towards.y() - at.y());
        double dx = (towards.x() - at.x()) / length;
        double dy = (towards.y() - at.y()) / length;
        switch (end) {
            case ONE -> bar(at, dx, dy, colour);
            case ONE_OR_NONE ->
                canvas.circle(new Point(at.x() + dx * FOOT / 2, at.y() + dy * FOOT / 2), RING, colour, PAPER);
            case MANY -> {
                Point heel = new Point(at.x() + dx * FOOT, at.y() + dy * FOOT);
                canvas.line(
                        List.of(
                                new Point(at.x() - dy * TOES, at.y() + dx * TOES),
                                heel,
                                new Point(at.x() + dy * TOES, at.y() - dx * TOES)),
                        colour,
                        WIDTH);
            }
        }
    }

    private void bar(Point at, double dx, double dy, int colour) {
        double x = at.x() + dx * FOOT / 2;
        double y = at.y() + dy * FOOT / 2;
        canvas.line(
                List.of(new Point(x - dy * TOES, y + dx * TOES), new Point(x + dy * TOES, y - dx * TOES)),
                colour,
                WIDTH);
    }

    private void label(Line line) {
        Rect place = line.labelPlace();
        canvas.fill(place, PAPER);
        canvas.text(
                line.label(),
                new Point(place.x() + 2, place.y() + DiagramLayout.SMALL),
                DiagramLayout.SMALL,
                colour(line.rule()));
    }

    private void legend(double y) {
        double x = DiagramLayout.MARGIN;
        x = word("on delete:", x, y, FAINT);
        x = sample(Rule.RESTRICT, "restrict", x, y);
        x = sample(Rule.SET_NULL, "set null", x, y);
        x = sample(Rule.CASCADE, "cascade", x, y);
        x = sample(Rule.PIVOT, "pivot", x, y);
        x = mark(End.ONE, "one", x + 12, y);
        x = mark(End.ONE_OR_NONE, "one or none", x, y);
        mark(End.MANY, "many", x, y);
    }

    private double word(String word, double x, double y, int colour) {
        canvas.text(word, new Point(x, y), DiagramLayout.SMALL, colour);
        return x + Typeface.width(word, DiagramLayout.SMALL) + DiagramLayout.GAP;
    }

    private double sample(Rule rule, String word, double x, double y) {
        canvas.line(List.of(new Point(x, y - 4), new Point(x + 22, y - 4)), colour(rule), WIDTH);
        return word(word, x + 28, y, colour(rule));
    }

    private double mark(End end, String word, double x, double y) {
        canvas.line(List.of(new Point(x, y - 4), new Point(x + 22, y - 4)), FAINT, WIDTH);
        end(new Point(x + 22, y - 4), new Point(x, y - 4), end, FAINT);
        return word(word, x + 30, y, FAINT);
    }
}
