package io.bathra.cli.canvas;

import java.util.List;

/** What can be drawn on. Colours are {@code 0xRRGGBB}. */
public interface Canvas {
    void fill(Rect place, int colour);

    void frame(Rect place, int colour, boolean dashed);

    void line(List<Point> points, int colour, double width);

    void circle(Point centre, double radius, int colour, int filling);

    /** Writes a text from a point of its base line on. */
    void text(String text, Point start, double size, int colour);
}
