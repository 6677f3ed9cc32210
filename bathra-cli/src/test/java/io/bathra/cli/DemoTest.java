package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The tool as a user meets it: arguments in; standard output, standard error and exit code out. */
class DemoTest {
    private final StringWriter out = new StringWriter();
    private final StringWriter err = new StringWriter();

    private int bathra(String... args) {
        out.getBuffer().setLength(0);
        err.getBuffer().setLength(0);
        return Bathra.run(new PrintWriter(out, true), new PrintWriter(err, true), args);
    }

    private void assertTheStoryIsTold() {
        assertThat(err.toString()).isEmpty();
        assertThat(out.toString())
                .contains("Movement   5 columns   call -> PortCall, pilot -> Pilot or none")
                .contains("asked again, nothing to do")
                .containsPattern("5  insert +port_call +400  insert into port_call \\(id, number")
                .contains("after insert berth (PortCall.berth); after insert vessel (PortCall.vessel)")
                .contains("400 calls listed, the vessel and operator of each visited: 22 operators, 4 statements")
                .contains(".eta: 2026-09-14T14:30 -> 2026-09-14T17:30")
                .contains("left to the database's own delete rules: movement, pilotage, port_call, vessel_certificates")
                .containsPattern("PortCall +398 rows = +400 lines - 2")
                .contains("vessel_certificates", "insert missing  pilotage")
                .containsPattern("Movement +1171 rows = +1177 lines - 6")
                .doesNotContain("WRONG")
                .doesNotContain("\u001b");
    }

    @Test
    void theDemoRunsOnAnEmbeddedDatabase() {
        assertThat(bathra("demo")).isZero();
        assertTheStoryIsTold();
    }

    @Test
    void theDemoRunsOnAFile(@TempDir Path folder) {
        assertThat(bathra("demo", "--url", "jdbc:sqlite:" + folder.resolve("harbour.db")))
                .isZero();
        assertTheStoryIsTold();
    }

    @Test
    void theDemoRunsOnPostgres() throws IOException {
        String own = System.getenv("BATHRA_TEST_POSTGRES_URL");
        try (EmbeddedPostgres server = own == null ? EmbeddedPostgres.builder().start() : null) {
            String url = server == null ? own : server.getJdbcUrl("postgres", "postgres");
            assertThat(bathra("demo", "--wipe", "--url", url))
                    .as(err.toString())
                    .isZero();
            assertTheStoryIsToldOnPostgres();
            assertThat(bathra("demo", "--url", url)).isEqualTo(1);
            assertThat(err.toString()).contains("have rows already").contains("--wipe");
            assertThat(bathra("demo", "--wipe", "--url", url)).isZero();
        }
    }

    private void assertTheStoryIsToldOnPostgres() {
        assertThat(err.toString()).isEmpty();
        assertThat(out.toString())
                .contains("insert into operator (id, code, name, country) overriding system value")
                .contains("copy movement (id, kind, at, call_id, pilot_id) from stdin")
                .contains("vessel_certificates", "insert missing  pilotage")
                .containsPattern("Movement +1171 rows = +1177 lines - 6");
    }

    @Test
    void mistakesAreAPlainMessageAndAnExitCode(@TempDir Path empty) {
        assertThat(bathra("demo", "--frobnicate")).isEqualTo(2);
        assertThat(err.toString()).contains("Unknown option: '--frobnicate'").contains("--help");

        assertThat(bathra()).isEqualTo(2);
        assertThat(err.toString()).contains("name a command");

        assertThat(bathra("demo", "--url", "jdbc:postgresql://127.0.0.1:1/harbour"))
                .isEqualTo(1);
        assertThat(err.toString()).contains("no connection to the database").contains("check that it runs");

        assertThat(bathra("demo", "--url", "jdbc:nothing:here")).isEqualTo(1);
        assertThat(err.toString()).contains("No suitable driver");

        assertThat(bathra("demo", "--data", empty.toString())).isEqualTo(1);
        assertThat(err.toString()).contains("operators.csv: there is no such file in " + empty);
        assertThat(err.toString().lines()).as("no stack trace").hasSize(1);
        assertThat(out.toString()).isEmpty();
    }

    @Test
    void helpAndVersionAreThere() {
        assertThat(bathra("demo", "--help")).isZero();
        assertThat(out.toString()).contains("--url").contains("Examples:");
        assertThat(bathra("--version")).isZero();
        assertThat(out.toString()).matches("bathra \\d+\\.\\d+\\.\\d+(-SNAPSHOT)?\\s+");
    }
}
