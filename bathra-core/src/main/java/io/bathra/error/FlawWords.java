package io.bathra.error;

import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.text.MessageFormat;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Properties;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/** The words for flaws in the languages that come along; English for all others. */
final class FlawWords {
    private static final Map<String, Properties> LANGUAGES = new ConcurrentHashMap<>();

    private FlawWords() {}

    static String of(Flaw flaw, Locale locale) {
        Properties words = LANGUAGES.computeIfAbsent(locale.getLanguage(), FlawWords::read);
        String pattern = Objects.requireNonNull(words.getProperty(flaw.key()));
        return new MessageFormat(pattern, locale).format(flaw.arguments().toArray());
    }

    private static Properties read(String language) {
        Properties words = new Properties();
        try (InputStream own = stream("flaws_" + language + ".properties");
                InputStream in = own == null ? stream("flaws.properties") : own) {
            words.load(new InputStreamReader(Objects.requireNonNull(in), StandardCharsets.UTF_8));
            return words;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static @Nullable InputStream stream(String name) {
        return FlawWords.class.getResourceAsStream(name);
    }
}
