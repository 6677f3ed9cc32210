package io.bathra.cli.diagram;

import io.bathra.cli.canvas.PngCanvas;
import io.bathra.cli.canvas.Point;
import io.bathra.cli.canvas.Rect;
import io.bathra.cli.canvas.SvgCanvas;
import io.bathra.model.Model;
import java.util.List;

/**
 * A model as boxes and lines, each with its place. Lengths are pixels, from the upper left corner. Immutable.
 *
 * <pre>{@code
 * Files.writeString(file, Diagram.of(Harbour.MODEL).svg());
 * }</pre>
 *
 * @param title stands above the drawing
 * @param boxes the tables
 * @param lines the links between them
 */
public record Diagram(String title, double width, double height, List<Box> boxes, List<Line> lines) {
    /** What a box stands for. */
    public enum Kind {
        ENTITY,
        VIEW,
        PARTS
    }

    /**
     * A table.
     *
     * @param title the entity's name
     * @param subtitle the table's name
     * @param rows its columns
     */
    public record Box(Kind kind, Rect place, String title, String subtitle, List<Row> rows) {}

    /**
     * A line of a box.
     *
     * @param name the attribute
     * @param words its type, and whether it is unique or may be missing
     * @param key whether it is the key, or a part of it
     */
    public record Row(String name, String words, boolean key) {}

    /** How many rows there may be at an end of a line. */
    public enum End {
        ONE,
        ONE_OR_NONE,
        MANY
    }

    /** What becomes of the rows at the many end when one at the other is deleted. */
    public enum Rule {
        RESTRICT,
        SET_NULL,
        CASCADE,
        /** The rows of a pivot go along; both ends stay. */
        PIVOT
    }

    /**
     * A link, or a pivot.
     *
     * @param points where it runs, from its first end to its second
     * @param label what stands beside it
     * @param labelPlace where that stands
     */
    public record Line(List<Point> points, End from, End to, Rule rule, String label, Rect labelPlace) {}

    public Diagram {
        boxes = List.copyOf(boxes);
        lines = List.copyOf(lines);
    }

    /** Draws a model: the places are found by a layered layout. */
    public static Diagram of(Model model) {
        return new DiagramLayout(model).layOut();
    }

    /** As SVG. */
    public String svg() {
        SvgCanvas canvas = new SvgCanvas(width, height, title);
        DiagramPainter.paint(this, canvas);
        return canvas.text();
    }

    /** As PNG. */
    public byte[] png() {
        PngCanvas canvas = new PngCanvas(width, height);
        DiagramPainter.paint(this, canvas);
        return canvas.bytes();
    }
}
