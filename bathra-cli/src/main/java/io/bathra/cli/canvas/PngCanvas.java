package io.bathra.cli.canvas;

import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.geom.Ellipse2D;
import java.awt.geom.Path2D;
import java.awt.geom.Rectangle2D;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import javax.imageio.ImageIO;

/** Draws as PNG, with outlines in place of fonts, so that no font of the machine plays a part. */
public final class PngCanvas implements Canvas {
    private static final float[] DASHES = {5, 4};

    private final BufferedImage image;
    private final Graphics2D graphics;

    public PngCanvas(double width, double height) {
        System.setProperty("java.awt.headless", "true"); // nothing is shown, so no screen is asked for
        image = new BufferedImage((int) Math.ceil(width), (int) Math.ceil(height), BufferedImage.TYPE_INT_RGB);
        graphics = image.createGraphics();
        graphics.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
        graphics.setRenderingHint(RenderingHints.KEY_STROKE_CONTROL, RenderingHints.VALUE_STROKE_NORMALIZE);
    }

    private static Rectangle2D shape(Rect place) {
        return new Rectangle2D.Double(place.x(), place.y(), place.width(), place.height());
    }

    @Override
    public void fill(Rect place, int colour) {
        graphics.setColor(new Color(colour));
        graphics.fill(shape(place));
    }

    @Override
    public void frame(Rect place, int colour, boolean dashed) {
        graphics.setColor(new Color(colour));
        graphics.setStroke(
                dashed
                        ? new BasicStroke(1, BasicStroke.CAP_BUTT, BasicStroke.JOIN_MITER, 10, DASHES, 0)
                        : new BasicStroke(1));
        graphics.draw(shape(place));
    }

    @Override
    public void line(List<Point> points, int colour, double width) {
        Path2D path = new Path2D.Double();
        path.moveTo(points.get(0).x(), points.get(0).y());
        points.subList(1, points.size()).forEach(point -> path.lineTo(point.x(), point.y()));
        graphics.setColor(new Color(colour));
        graphics.setStroke(new BasicStroke((float) width, BasicStroke.CAP_BUTT, BasicStroke.JOIN_ROUND));
        graphics.draw(path);
    }

    @Override
    public void circle(Point centre, double radius, int colour, int filling) {
        Ellipse2D circle = new Ellipse2D.Double(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius);
        graphics.setColor(new Color(filling));
        graphics.fill(circle);
        graphics.setColor(new Color(colour));
        graphics.setStroke(new BasicStroke(1.5f));
        graphics.draw(circle);
    }

    @Override
    public void text(String words, Point start, double size, int colour) {
        graphics.setColor(new Color(colour));
        graphics.fill(Typeface.outlines(words, start.x(), start.y(), size));
    }

    /** The picture. */
    public byte[] bytes() {
        graphics.dispose();
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try {
            ImageIO.setUseCache(false);
            ImageIO.write(image, "png", bytes);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return bytes.toByteArray();
    }
}
