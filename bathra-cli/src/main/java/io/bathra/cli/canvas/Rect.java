package io.bathra.cli.canvas;

/** A place on a drawing. Lengths are pixels, from the upper left corner. */
public record Rect(double x, double y, double width, double height) {
    /** Whether they have more than an edge in common. */
    public boolean overlaps(Rect other) {
        return x < other.x + other.width && other.x < x + width && y < other.y + other.height && other.y < y + height;
    }

    /** Whether another one lies within. */
    public boolean holds(Rect other) {
        return other.x >= x
                && other.y >= y
                && other.x + other.width <= x + width
                && other.y + other.height <= y + height;
    }
}
