package io.bathra.cli.canvas;

import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** Draws as SVG 1.1. Texts stay texts, held to the width that was measured for them. */
public final class SvgCanvas implements Canvas {
    private final StringBuilder text = new StringBuilder();

    public SvgCanvas(double width, double height, String title) {
        add(
                "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%s\" height=\"%s\" viewBox=\"0 0 %s %s\""
                        + " font-family=\"%s\">",
                number(width), number(height), number(width), number(height), Typeface.FAMILIES);
        add("<title>%s</title>", escaped(title));
    }

    private void add(String format, Object... values) {
        text.append(String.format(Locale.ROOT, format, values)).append('\n');
    }

    private static String number(double value) {
        String rounded = String.format(Locale.ROOT, "%.2f", value);
        return rounded.replaceFirst("\\.?0+$", "");
    }

    private static String colour(int colour) {
        return String.format(Locale.ROOT, "#%06x", colour);
    }

    private static String escaped(String text) {
        return text.replace("&", "&amp;")
                .replace("<", "&lt;")
                .replace(">", "&gt;")
                .replace("\"", "&quot;");
    }

    private static String place(Rect place) {
        return String.format(
                Locale.ROOT,
                "x=\"%s\" y=\"%s\" width=\"%s\" height=\"%s\"",
                number(place.x()),
                number(place.y()),
                number(place.width()),
                number(place.height()));
    }

    @Override
    public void fill(Rect place, int colour) {
        add("<rect %s fill=\"%s\"/>", place(place), colour(colour));
    }

    @Override
    public void frame(Rect place, int colour, boolean dashed) {
        add(
                "<rect %s fill=\"none\" stroke=\"%s\"%s/>",
                place(place), colour(colour), dashed ? " stroke-dasharray=\"5 4\"" : "");
    }

    @Override
    public void line(List<Point> points, int colour, double width) {
        add(
                "<polyline points=\"%s\" fill=\"none\" stroke=\"%s\" stroke-width=\"%s\" stroke-linejoin=\"round\"/>",
                points.stream()
                        .map(point -> number(point.x()) + "," + number(point.y()))
                        .collect(Collectors.joining(" ")),
                colour(colour),
                number(width));
    }

    @Override
    public void circle(Point centre, double radius, int colour, int filling) {
        add(
                "<circle cx=\"%s\" cy=\"%s\" r=\"%s\" fill=\"%s\" stroke=\"%s\" stroke-width=\"1.5\"/>",
                number(centre.x()), number(centre.y()), number(radius), colour(filling), colour(colour));
    }

    @Override
    public void text(String words, Point start, double size, int colour) {
        add(
                "<text x=\"%s\" y=\"%s\" font-size=\"%s\" fill=\"%s\" textLength=\"%s\" lengthAdjust=\"spacingAndGlyphs\">%s</text>",
                number(start.x()),
                number(start.y()),
                number(size),
                colour(colour),
                number(Typeface.width(words, size)),
                escaped(words));
    }

    /** All that was drawn. */
    public String text() {
        return text + "</svg>\n";
    }
}
