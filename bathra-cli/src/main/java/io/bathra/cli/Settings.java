package io.bathra.cli;

import io.bathra.error.BathraException;
import java.io.IOException;
import java.io.Reader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * Where a setting comes from that no option gives: a variable of the environment, {@code BATHRA_URL} say, else a
 * properties file,
 * {@code bathra.properties} in the working folder unless another one is named.
 */
final class Settings {
    static final List<String> NAMES = List.of("url", "user", "password", "model", "classpath");
    private static final Path USUAL = Path.of("bathra.properties");

    private final Map<String, String> environment;
    private final Properties file = new Properties();

    private Settings(Map<String, String> environment) {
        this.environment = environment;
    }

    /**
     * Reads the settings.
     *
     * @param named the file that was asked for; null for the usual one, which may be missing
     * @throws BathraException when the file cannot be read, or has a setting that nobody knows
     */
    static Settings read(Map<String, String> environment, @Nullable Path named) {
        Settings settings = new Settings(environment);
        Path path = named == null ? USUAL : named;
        if (named != null || Files.exists(path)) {
            try (Reader reader = Files.newBufferedReader(path, StandardCharsets.UTF_8)) {
                settings.file.load(reader);
            } catch (IOException | IllegalArgumentException e) {
                throw new BathraException("the settings in " + path + " cannot be read: " + e, e);
            }
            TreeSet<String> unknown = new TreeSet<>(settings.file.stringPropertyNames());
            NAMES.forEach(unknown::remove);
            if (!unknown.isEmpty()) {
                throw new BathraException(path + " has " + unknown + ", but the settings are " + NAMES
                        + "; mend the name, or take it out");
            }
        }
        return settings;
    }

    /** A setting, where there is one. */
    Optional<String> get(String name) {
        String variable = environment.get("BATHRA_" + name.toUpperCase(Locale.ROOT));
        return Optional.ofNullable(variable == null ? file.getProperty(name) : variable)
                .filter(value -> !value.isBlank());
    }
}
