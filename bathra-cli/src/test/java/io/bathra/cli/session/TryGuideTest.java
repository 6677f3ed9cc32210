package io.bathra.cli.session;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Season;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/**
 * What the page shows is what comes of its entries. {@code mvn -pl bathra-cli test -Dtest=TryGuideTest -Dguide.draw}
 * writes it anew.
 */
class TryGuideTest {
    private static final Path PAGE = Path.of("").toAbsolutePath().getParent().resolve("docs/guide/try.md");
    private static final Pattern BLOCK = Pattern.compile("(?s)```text\n(.*?)```");
    private static final Pattern ENTRY = Pattern.compile("(?m)^> .*\n(?:\\| .*\n)*");
    private static final Pattern MILLIS = Pattern.compile("[\\d.]+ ms");

    private final StringBuilder screen = new StringBuilder();

    @Test
    void thePageShowsWhatHappens() throws IOException {
        String page = Files.readString(PAGE);
        String seen;
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:guide-to-try")) {
            store.schema().createMissing();
            store.run(Season.shipped()::addTo);
            ModelWords words = new ModelWords(Harbour.MODEL);
            JavaEntries java = new JavaEntries(
                    List.of(JavaEntries.placeOf(Harbour.class)), getClass().getClassLoader(), words);
            try (Session session = new Session(store, () -> {}, words, java, new Screen() {
                @Override
                public void print(Printed printed) {
                    printed.lines().forEach(line -> screen.append(line.text()).append('\n'));
                }

                @Override
                public int width() {
                    return 110;
                }
            })) {
                seen = BLOCK.matcher(page)
                        .replaceAll(
                                block -> Matcher.quoteReplacement("```text\n" + told(session, block.group(1)) + "```"));
            }
        }
        if (System.getProperty("guide.draw") != null) {
            Files.writeString(PAGE, seen);
            return;
        }
        assertThat(timeless(page)).isEqualTo(timeless(seen));
    }

    private String told(Session session, String block) {
        screen.setLength(0);
        ENTRY.matcher(block).results().forEach(entry -> {
            screen.append(entry.group());
            session.enter(entry.group().replaceAll("(?m)^[>|] ", "").strip());
        });
        return screen.toString();
    }

    private static String timeless(String text) {
        return MILLIS.matcher(text).replaceAll("0 ms");
    }
}
