package io.bathra.cli;

import java.nio.file.Path;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** Where settings come from that no option gives. */
final class SettingsOption {
    @Option(
            names = "--settings",
            paramLabel = "FILE",
            description = "A properties file with url, user, password, model or classpath; bathra.properties in "
                    + "the working folder is read unasked. Variables BATHRA_URL and so on count before it, "
                    + "options before both.",
            order = 6)
    private @Nullable Path settingsFile;

    private @Nullable Settings settings;

    private Settings settings() {
        Settings known = settings;
        if (known == null) {
            known = Settings.read(System.getenv(), settingsFile);
            settings = known;
        }
        return known;
    }

    @Nullable
    String given(@Nullable String option, String name) {
        return option != null ? option : settings().get(name).orElse(null);
    }
}
