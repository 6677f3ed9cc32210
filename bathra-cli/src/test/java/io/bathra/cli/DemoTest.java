package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.testing.TestDatabase;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The tool as a user meets it: arguments in; standard output, standard error and exit code out. */
class DemoTest {
    private final Shell shell = new Shell();

    private void assertTheStoryIsTold() {
        assertThat(shell.err()).isEmpty();
        assertThat(shell.out())
                .contains("Movement   5 columns   call -> PortCall, pilot -> Pilot or none")
                .contains("asked again, nothing to do")
                .containsPattern("5  insert +port_call +400  insert into port_call \\(id, number")
                .contains("after insert berth (PortCall.berth); after insert vessel (PortCall.vessel)")
                .contains("400 calls listed, the vessel and operator of each visited: 22 operators, 4 statements")
                .contains(".eta: 2026-09-14T14:30 -> 2026-09-14T17:30")
                .contains("left to the database's own delete rules: movement, pilotage, port_call, vessel_certificates")
                .containsPattern("PortCall +398 rows = +400 lines - 2")
                .contains("vessel_certificates")
                .containsPattern("insert +pilotage")
                .containsPattern("Movement +1171 rows = +1177 lines - 6")
                .contains("22,000 rows: 2,000 inserted, 2,000 updated, 18,000 unchanged")
                .containsPattern("Container +22000 rows = +0 lines \\+ 22000 in bulk")
                .doesNotContain("WRONG")
                .doesNotContain("\u001b");
    }

    @Test
    void theDemoRunsOnAnEmbeddedDatabase() {
        assertThat(shell.bathra("demo")).isZero();
        assertTheStoryIsTold();
    }

    @Test
    void whatIsExecutedIsAPage(@TempDir Path folder) {
        Path page = folder.resolve("demo.html");
        assertThat(shell.bathra("demo", "--page", page)).isZero();
        assertThat(page)
                .content()
                .contains(
                        "<h1>A season and a day at the harbour office</h1>",
                        "insert into port_call",
                        "9 steps, 2780 rows");
        Path quick = folder.resolve("new folder").resolve("quick.html");
        assertThat(shell.bathra("example", "quick-start", "--page", quick)).isZero();
        assertThat(quick).content().contains("update port_call", "example quick-start");
        assertThat(shell.bathra("demo", "--page", folder)).isEqualTo(1);
        assertThat(shell.err()).contains("is a folder; name a file");
    }

    @Test
    void theDemoRunsOnAFile(@TempDir Path folder) {
        assertThat(shell.bathra("demo", "--url", "jdbc:sqlite:" + folder.resolve("harbour.db")))
                .isZero();
        assertTheStoryIsTold();
    }

    @Test
    void theDemoRunsOnPostgres(@TempDir Path folder) {
        String url = TestDatabase.POSTGRESQL.sharedUrl();
        assertThat(shell.bathra("demo", "--url", url)).as(shell.err()).isZero();
        assertTheStoryIsToldOnPostgres();
        assertThat(shell.bathra("demo", "--url", url)).isEqualTo(1);
        assertThat(shell.err()).contains("have rows already").contains("--wipe");
        assertThat(shell.bathra("demo", "--wipe", "--url", url)).isZero();
    }

    private void assertTheStoryIsToldOnPostgres() {
        assertThat(shell.err()).isEmpty();
        assertThat(shell.out())
                .contains("insert into operator (id, code, name, country) overriding system value")
                .contains("copy movement (id, kind, at, call_id, pilot_id) from stdin")
                .contains("vessel_certificates")
                .containsPattern("insert +pilotage")
                .containsPattern("Movement +1171 rows = +1177 lines - 6");
    }

    @Test
    void mistakesAreAPlainMessageAndAnExitCode(@TempDir Path empty) {
        assertThat(shell.bathra("demo", "--frobnicate")).isEqualTo(2);
        assertThat(shell.err()).contains("Unknown option: '--frobnicate'").contains("--help");

        assertThat(shell.bathra()).isEqualTo(2);
        assertThat(shell.err()).contains("name a command");

        assertThat(shell.bathra("demo", "--url", "jdbc:postgresql://127.0.0.1:1/harbour"))
                .isEqualTo(1);
        assertThat(shell.err()).contains("no connection to the database").contains("check that it runs");

        assertThat(shell.bathra("demo", "--url", "jdbc:nothing:here")).isEqualTo(1);
        assertThat(shell.err()).contains("no driver takes jdbc:nothing:here");

        assertThat(shell.bathra("demo", "--data", empty.toString())).isEqualTo(1);
        assertThat(shell.err()).contains("operators.csv: there is no such file in " + empty);
        assertThat(shell.err().lines()).as("no stack trace").hasSize(1);
        assertThat(shell.out()).isEmpty();
    }

    @Test
    void helpAndVersionAreThere() {
        for (String command : new String[] {"show", "schema", "load", "sample", "example"}) {
            assertThat(shell.bathra(command, "--help")).isZero();
            assertThat(shell.out()).contains("Examples:").contains("  bathra " + command);
        }
        assertThat(shell.bathra("example")).isZero();
        assertThat(shell.out()).contains("quick-start", "existing-schema");
        assertThat(shell.bathra("example", "slow-start")).isEqualTo(1);
        assertThat(shell.err()).contains("there is no example 'slow-start', but there are quick-start, ");
        assertThat(shell.bathra("demo", "--help")).isZero();
        assertThat(shell.out()).contains("--url").contains("Examples:");
        assertThat(shell.bathra("--version")).isZero();
        assertThat(shell.out()).matches("bathra \\d+\\.\\d+\\.\\d+(-SNAPSHOT)?\\s+");
    }
}
