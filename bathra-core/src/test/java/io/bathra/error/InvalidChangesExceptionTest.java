package io.bathra.error;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class InvalidChangesExceptionTest {
    @Test
    void aMessageTellsThirtyProblemsAndTheListHasAll() {
        List<Problem> problems = IntStream.rangeClosed(1, 42)
                .mapToObj(number -> new Problem("Vessel " + number, "name", null, Flaw.other("is required; set it")))
                .toList();

        InvalidChangesException many = new InvalidChangesException(problems);

        assertThat(many.getMessage().lines())
                .hasSize(32)
                .startsWith("nothing was written, because of 42 problems:")
                .contains("  - Vessel 30.name = null: is required; set it")
                .endsWith("  and 12 more, which problems() has");
        assertThat(many.problems()).isEqualTo(problems);
        assertThat(new InvalidChangesException(problems.subList(0, 1)).getMessage())
                .isEqualTo("nothing was written, because of a problem:\n  - Vessel 1.name = null: is required; set it");
    }
}
