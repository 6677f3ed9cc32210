package io.bathra.cli.session;

import java.util.List;
import org.jline.utils.WCWidth;

/** Texts as a terminal shows them: how wide they are, and without anything that it would take for a command. */
final class Cells {
    private Cells() {}

    /** The same with whatever moves the cursor, changes colours, or turns the direction of writing written out. */
    static String safe(String text) {
        StringBuilder safe = null;
        for (int i = 0; i < text.length(); ) {
            int point = text.codePointAt(i);
            boolean told = isCommand(point);
            if (told && safe == null) {
                safe = new StringBuilder(text.length() + 8).append(text, 0, i);
            }
            if (safe != null) {
                if (told) {
                    safe.append(written(point));
                } else {
                    safe.appendCodePoint(point);
                }
            }
            i += Character.charCount(point);
        }
        return safe == null ? text : safe.toString();
    }

    private static boolean isCommand(int point) {
        return Character.isISOControl(point)
                || (point >= 0x202a && point <= 0x202e)
                || (point >= 0x2066 && point <= 0x2069)
                || point == 0x2028
                || point == 0x2029
                || (point >= Character.MIN_SURROGATE && point <= Character.MAX_SURROGATE);
    }

    private static String written(int point) {
        return switch (point) {
            case '\n' -> "\\n";
            case '\t' -> "\\t";
            case '\r' -> "\\r";
            default -> String.format("\\u%04x", point);
        };
    }

    /** How many columns a text takes. */
    static int width(String text) {
        int width = 0;
        for (int i = 0; i < text.length(); ) {
            int point = text.codePointAt(i);
            width += Math.max(0, WCWidth.wcwidth(point));
            i += Character.charCount(point);
        }
        return width;
    }

    /** A text in at most so many columns; what is left out is told by a last character. */
    static String cut(String text, int most) {
        if (width(text) <= most) {
            return text;
        }
        StringBuilder cut = new StringBuilder();
        int width = 1;
        for (int i = 0; i < text.length(); ) {
            int point = text.codePointAt(i);
            width += Math.max(0, WCWidth.wcwidth(point));
            if (width > most) {
                break;
            }
            cut.appendCodePoint(point);
            i += Character.charCount(point);
        }
        return cut.append('…').toString();
    }

    /** A text filled up to a width. */
    static String filled(String text, int width, boolean right) {
        String blanks = " ".repeat(Math.max(0, width - width(text)));
        return right ? blanks + text : text + blanks;
    }

    /** Some words one after the other, in lines of a width. */
    static String wrapped(List<String> words, int width, String indent) {
        StringBuilder lines = new StringBuilder();
        int at = 0;
        for (String word : words) {
            int needed = width(word) + (at == 0 ? 0 : 1);
            if (at > 0 && at + needed > width) {
                lines.append('\n').append(indent);
                at = width(indent);
                needed--;
            } else if (at > 0) {
                lines.append(' ');
            }
            lines.append(word);
            at += needed;
        }
        return lines.toString();
    }
}
