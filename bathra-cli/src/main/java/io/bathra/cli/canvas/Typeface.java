package io.bathra.cli.canvas;

import java.awt.geom.AffineTransform;
import java.awt.geom.Path2D;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Objects;
import org.apache.fontbox.ttf.CmapLookup;
import org.apache.fontbox.ttf.GlyphData;
import org.apache.fontbox.ttf.TTFParser;
import org.apache.fontbox.ttf.TrueTypeFont;
import org.apache.pdfbox.io.RandomAccessReadBuffer;
import org.apache.pdfbox.pdmodel.PDDocument;

/**
 * The one typeface of all drawings, read from a library's file: a machine without fonts draws the same as any other,
 * and texts are measured before they are placed.
 */
public final class Typeface {
    private static final String FILE = "/org/apache/pdfbox/resources/ttf/LiberationSans-Regular.ttf";

    /** Faces of the same widths, for whoever shows an SVG. */
    static final String FAMILIES = "'Liberation Sans', Arial, Helvetica, sans-serif";

    private static final Typeface ONE = read();

    private final TrueTypeFont font;
    private final CmapLookup characters;
    private final double unitsPerEm;

    private Typeface(TrueTypeFont font) throws IOException {
        this.font = font;
        this.characters = font.getUnicodeCmapLookup();
        this.unitsPerEm = font.getUnitsPerEm();
    }

    private static Typeface read() {
        try (InputStream file = Objects.requireNonNull(PDDocument.class.getResourceAsStream(FILE))) {
            return new Typeface(new TTFParser().parse(new RandomAccessReadBuffer(file)));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** How wide a text is at a size. */
    public static double width(String text, double size) {
        try {
            double units = 0;
            for (int character : text.codePoints().toArray()) {
                units += ONE.font.getAdvanceWidth(ONE.characters.getGlyphId(character));
            }
            return units / ONE.unitsPerEm * size;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The outlines of a text that begins at a point of its base line. */
    static Path2D outlines(String text, double x, double y, double size) {
        try {
            Path2D outlines = new Path2D.Double();
            double scale = size / ONE.unitsPerEm;
            double next = x;
            for (int character : text.codePoints().toArray()) {
                int glyph = ONE.characters.getGlyphId(character);
                GlyphData data = ONE.font.getGlyph().getGlyph(glyph);
                if (data != null) {
                    AffineTransform place = AffineTransform.getTranslateInstance(next, y);
                    place.scale(scale, -scale); // the face's own axis goes up
                    outlines.append(data.getPath().getPathIterator(place), false);
                }
                next += ONE.font.getAdvanceWidth(glyph) * scale;
            }
            return outlines;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
