package io.bathra.cli;

import java.io.IOException;
import me.tongfei.progressbar.ConsoleProgressBarConsumer;
import me.tongfei.progressbar.ProgressBarBuilder;
import me.tongfei.progressbar.ProgressBarStyle;
import org.jline.terminal.Terminal;
import org.jline.terminal.TerminalBuilder;

/**
 * A bar that shows how far something has come. It leaves signals alone: the library's own way to the terminal would
 * have Ctrl-C end the program at once, without what is to be cleaned up.
 */
final class Progress {
    private static final int USUAL_WIDTH = 80;

    private Progress() {}

    static ProgressBarBuilder bar(String task) {
        return new ProgressBarBuilder()
                .setTaskName(task)
                .setStyle(ProgressBarStyle.ASCII)
                .setUpdateIntervalMillis(200)
                .setConsumer(new ConsoleProgressBarConsumer(System.err, width() - 1));
    }

    private static int width() {
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
}
