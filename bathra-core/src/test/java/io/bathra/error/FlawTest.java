package io.bathra.error;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.error.Flaw.Code;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.ResourceBundle;
import java.util.Set;
import org.junit.jupiter.api.Test;

class FlawTest {
    private static final String BUNDLE = "io.bathra.error.flaws";

    private static Set<String> keys(Locale locale) {
        return ResourceBundle.getBundle(BUNDLE, locale, Flaw.class.getModule()).keySet();
    }

    @Test
    void everyCodeHasWordsInEachLanguageThatComesAlong() {
        assertThat(keys(Locale.GERMAN)).containsExactlyInAnyOrderElementsOf(keys(Locale.ROOT));
        List<String> unreadable = keys(Locale.ROOT).stream()
                .filter(key -> key.startsWith("unreadable"))
                .toList();
        assertThat(keys(Locale.ROOT)).hasSize(Code.values().length - 1 + unreadable.size());
        for (Locale locale : new Locale[] {Locale.ENGLISH, Locale.GERMANY}) {
            for (Flaw flaw : flaws(unreadable)) {
                assertThat(flaw.words(locale)).as(flaw.key()).isNotBlank().doesNotContain("{", "developers");
            }
        }
    }

    private static List<Flaw> flaws(List<String> unreadable) {
        List<Flaw> flaws = new ArrayList<>();
        for (Code code : Code.values()) {
            if (code != Code.UNREADABLE) {
                flaws.add(Flaw.of(code, "for developers", 7, 2));
            }
        }
        unreadable.forEach(key ->
                flaws.add(Flaw.of(Code.UNREADABLE, "for developers", key.substring(key.indexOf('.') + 1), 0, 9)));
        return flaws;
    }

    @Test
    void wordsHaveTheirArgumentsInThem() {
        Flaw tooLong = Flaw.of(Code.TOO_LONG, "shorten it, or declare a greater length(...)", 7);
        assertThat(tooLong.key()).isEqualTo("too-long");
        assertThat(tooLong.words(Locale.ENGLISH)).isEqualTo("may have at most 7 characters");
        assertThat(tooLong.words(Locale.GERMAN)).isEqualTo("darf höchstens 7 Zeichen haben");
        assertThat(tooLong.words(Locale.FRENCH)).as("none of ours").isEqualTo("may have at most 7 characters");
        assertThat(Flaw.of(Code.TOO_LONG, "", 1).words(Locale.ENGLISH)).isEqualTo("may have at most 1 character");
        assertThat(Flaw.of(Code.YEAR_OUT_OF_RANGE, "", 1, 9999).words(Locale.ENGLISH))
                .isEqualTo("has to be of a year from 1 to 9999");
        assertThat(Flaw.of(Code.OUT_OF_RANGE, "", 0, 32_767).words(Locale.GERMAN))
                .isEqualTo("muss zwischen 0 und 32.767 liegen");
    }

    @Test
    void theLanguageOfTheMachineIsNotTakenForAnother() {
        Locale before = Locale.getDefault();
        Locale.setDefault(Locale.GERMANY);
        try {
            assertThat(Flaw.of(Code.REQUIRED, "").words(Locale.FRENCH)).isEqualTo("is required");
        } finally {
            Locale.setDefault(before);
        }
    }
}
