package io.bathra.cli;

import me.tongfei.progressbar.ConsoleProgressBarConsumer;
import me.tongfei.progressbar.ProgressBarBuilder;
import me.tongfei.progressbar.ProgressBarStyle;

/** A bar that shows how far something has come. */
final class Progress {
    private Progress() {}

    static ProgressBarBuilder bar(String task) {
        return new ProgressBarBuilder()
                .setTaskName(task)
                .setStyle(ProgressBarStyle.ASCII)
                .setUpdateIntervalMillis(200)
                .setConsumer(new ConsoleProgressBarConsumer(System.err, Window.width() - 1));
    }
}
