package io.bathra.error;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.error.Flaw.Code;
import java.util.Locale;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class FlawTest {
    @ParameterizedTest
    @EnumSource
    void everyCodeHasWordsInEachLanguageThatComesAlong(Code code) {
        Flaw flaw = Flaw.of(code, "for developers", 7, 2);
        for (Locale locale : new Locale[] {Locale.ENGLISH, Locale.GERMANY}) {
            assertThat(flaw.words(locale)).isNotBlank().doesNotContain("{", "developers");
        }
    }

    @Test
    void wordsHaveTheirArgumentsInThem() {
        Flaw tooLong = Flaw.of(Code.TOO_LONG, "shorten it, or declare a greater length(...)", 7);
        assertThat(tooLong.key()).isEqualTo("too-long");
        assertThat(tooLong.words(Locale.ENGLISH)).isEqualTo("may have at most 7 characters");
        assertThat(tooLong.words(Locale.GERMAN)).isEqualTo("darf höchstens 7 Zeichen haben");
        assertThat(tooLong.words(Locale.FRENCH)).as("none of ours").isEqualTo("may have at most 7 characters");
        assertThat(Flaw.of(Code.YEAR_OUT_OF_RANGE, "", 1, 9999).words(Locale.ENGLISH))
                .isEqualTo("has to be of a year from 1 to 9999");
    }
}
