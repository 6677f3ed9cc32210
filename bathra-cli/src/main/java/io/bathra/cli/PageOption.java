package io.bathra.cli;

import io.bathra.error.BathraException;
import io.bathra.page.Recording;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** A page of what a command executes. */
final class PageOption {
    @Option(
            names = "--page",
            paramLabel = "FILE",
            description = "Writes what is executed to an HTML file, to look at: in order, over time, what repeats.")
    private @Nullable Path file;

    /** Does some work; what its stores execute becomes a page, also when it fails. */
    <T> T recorded(String title, Supplier<T> work) {
        if (file == null) {
            return work.get();
        }
        if (Files.isDirectory(file)) {
            throw new BathraException("--page " + file + " is a folder; name a file, such as page.html");
        }
        try (Recording recording = Recording.ofProgram()) {
            try {
                return work.get();
            } finally {
                recording.page(title).write(file);
            }
        }
    }
}
