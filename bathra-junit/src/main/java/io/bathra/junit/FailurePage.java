package io.bathra.junit;

import io.bathra.page.Recording;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;
import org.junit.jupiter.api.extension.ExtensionContext;

/**
 * Writes what a test has executed to a page, when it has failed: to {@code bathra-pages} in the build's folder, or to
 * the folder that the system property {@code bathra.pages} names; empty for none.
 */
final class FailurePage {
    private static final String FOLDER = "bathra-pages";

    private FailurePage() {}

    static void write(ExtensionContext test, Recording recording) {
        String folder = System.getProperty("bathra.pages", built());
        if (folder.isEmpty()) {
            return;
        }
        String name = test.getRequiredTestClass().getSimpleName() + "."
                + test.getRequiredTestMethod().getName();
        String which = test.getDisplayName().replaceAll("[^\\w.-]+", "-");
        Path file = Path.of(
                folder, name + (which.startsWith(test.getRequiredTestMethod().getName()) ? "" : "-" + which) + ".html");
        try {
            recording.page(name + ", which has failed").write(file);
            test.publishReportEntry(
                    "what the test has executed", file.toAbsolutePath().toString());
        } catch (RuntimeException e) {
            test.publishReportEntry("no page of what the test has executed", e.getMessage());
        }
    }

    private static String built() {
        return Stream.of("target", "build")
                .filter(folder -> Files.isDirectory(Path.of(folder)))
                .map(folder -> folder + "/" + FOLDER)
                .findFirst()
                .orElse("");
    }
}
