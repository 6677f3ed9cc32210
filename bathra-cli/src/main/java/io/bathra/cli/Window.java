package io.bathra.cli;

import java.io.IOException;
import org.jline.terminal.Terminal;
import org.jline.terminal.TerminalBuilder;

/** The window that the tool prints into: how wide it is, and lines that fit. */
final class Window {
    private static final int USUAL_WIDTH = 80;
    /** Lines go on below what stands behind the last gap that begins before this column. */
    private static final int LAST_INDENT = 40;

    private Window() {}

    /**
     * How wide the terminal is. Signals are left alone: the library's own way would have Ctrl-C end the program at
     * once, without what is to be cleaned up.
     */
    static int width() {
        try (Terminal terminal = TerminalBuilder.builder()
                .system(true)
                .dumb(true)
                .nativeSignals(false)
                .build()) {
            return terminal.getColumns() > 0 ? terminal.getColumns() : USUAL_WIDTH;
        } catch (IOException e) {
            return USUAL_WIDTH;
        }
    }

    /** How wide lines may be: as the terminal where there is one, but no wider than this. */
    static int width(int most) {
        return Talk.isTerminal() ? Math.min(most, width()) : most;
    }

    /** A text of which each line fits, cut between words; the rest of a line goes on below its last column. */
    static String wrapped(String text, int width) {
        StringBuilder wrapped = new StringBuilder();
        for (String line : text.split("\n", -1)) {
            String indent = " ".repeat(indent(line));
            String rest = line;
            while (rest.length() > width) {
                int blank = rest.lastIndexOf(' ', width);
                if (blank <= indent.length()) {
                    break; // one long word
                }
                wrapped.append(rest, 0, blank).append('\n');
                rest = indent + rest.substring(blank).stripLeading();
            }
            wrapped.append(rest).append('\n');
        }
        return wrapped.substring(0, wrapped.length() - 1);
    }

    private static int indent(String line) {
        int gap = line.substring(0, Math.min(line.length(), LAST_INDENT)).lastIndexOf("  ");
        if (gap < 0) {
            return 2;
        }
        int begin = gap + 2;
        while (begin < line.length() && line.charAt(begin) == ' ') {
            begin++;
        }
        return begin < line.length() ? begin : 2;
    }

    /** A line without what does not fit. */
    static String cut(String line, int width) {
        return line.length() > width ? line.substring(0, width - 1) + "…" : line;
    }
}
