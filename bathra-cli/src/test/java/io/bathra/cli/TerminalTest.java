package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.cli.session.Fleet;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

/** A person at a terminal: a real one, as far as it is installed. */
@Tag("exhaustive")
class TerminalTest {
    /** Whether there is time for all databases, and not for one of them alone. */
    private static final boolean ALL = System.getenv("BATHRA_ALL_DATABASES") != null;

    @TempDir
    private Path folder;

    private static Path java() {
        return Path.of(System.getProperty("java.home"));
    }

    /** The JDK of the tests, and the newest one that a variable names. */
    static Stream<Path> javas() {
        String newest = System.getenv("BATHRA_NEWEST_JAVA");
        return newest == null ? Stream.of(java()) : Stream.of(java(), Path.of(newest));
    }

    private Tmux terminal(Path java, String... args) {
        List<String> all = new ArrayList<>(List.of("try"));
        all.addAll(List.of(args));
        return new Tmux(100, 45, java, Map.of("XDG_STATE_HOME", folder.toString()), all.toArray(String[]::new))
                .await("> ");
    }

    private static String[] fleet(String url) {
        return new String[] {"--model", Fleet.class.getName() + "#MODEL", "--url", url};
    }

    /** Lines that a terminal has to break are one line here. */
    @ParameterizedTest
    @ValueSource(strings = {"demo", "show", "--help", "load --help", "change draft --help", "measure --help"})
    void whatIsPrintedFitsAWindowOfEightyColumns(String command) {
        try (Tmux terminal = new Tmux(80, 140, java(), Map.of(), command.split(" "))) {
            terminal.await("ENDED 0");
            assertThat(terminal.screen().lines())
                    .allSatisfy(line -> assertThat(line).hasSizeLessThanOrEqualTo(80));
        }
    }

    @Test
    void tabCompletesWhateverIsAtTheCursor() throws IOException {
        Files.writeString(folder.resolve("season.txt"), "1 + 1\n");
        try (Tmux terminal = terminal(java())) {
            terminal.await("Tab completes");
            completes(terminal, "wor", "> work");
            completes(terminal, "work.fr", "work.from(");
            completes(terminal, "work.from(Ves", "work.from(Vessel.class");
            completes(terminal, "work.from(PortCall.class).whe", ".where(");
            completes(terminal, "work.from(PortCall.class).where(the(PortCall::rem", "the(PortCall::remark");
            completes(terminal, "CallStatus.EXP", "CallStatus.EXPECTED");
            completes(terminal, ":mod", "> :model");
            completes(terminal, ":model Port", ":model PortCall");
            completes(terminal, ":run " + folder + "/sea", folder + "/season.txt");
            terminal.enter("var dawn = work.require(Vessel.class, 3L)", "rows, ");
            completes(terminal, "daw", "> dawn");
            completes(terminal, "dawn.ren", "dawn.rename(");
            terminal.clear().type("the(Pilot::").press("Tab").await("(Links<PortCall>)");
            assertThat(terminal.screen()).contains("badge", "(Grade)", "phone").doesNotContain("hashCode");
            terminal.press("C-c").clear().type("work.fin").press("Tab").await("-> Optional<E>");
        }
    }

    private static void completes(Tmux terminal, String begun, String expected) {
        terminal.clear().type(begun).press("Tab").await(expected).press("C-c");
    }

    @Test
    void entriesMayHaveManyLinesAndAreRemembered() throws IOException {
        try (Tmux terminal = terminal(java())) {
            terminal.clear()
                    .type("for (int i = 7; i < 9; i++) {")
                    .press("Enter")
                    .await("| ");
            terminal.type("System.out.println(i * 11);")
                    .press("Enter")
                    .type("}")
                    .press("Enter");
            terminal.await("77\n88\n");
            terminal.clear()
                    .paste("var one = 1;\nint twice(int n) {\n    return 2 * n;\n}\ntwice(one + 20)")
                    .press("Enter");
            terminal.await("twice(int) is there").await("42\n");
            terminal.enter("vesel.name()", "there is no variable vesel");
            terminal.enter("twice(4)", "\n8\n");
            terminal.enter(":sql create user x identified by 'hush-hush'", "writes, but this unit");
            terminal.clear().press("C-r").type("fo").await("for (int i = 7").press("C-c");
            terminal.awaitPrompt().press("C-d").await("ENDED 0"); // in between, the terminal is not the tool's
        }
        Path history = folder.resolve("bathra/history");
        assertThat(history).content().contains("twice(4)").doesNotContain("hush");
        assertThat(Files.getPosixFilePermissions(history)).hasSize(2);
        try (Tmux terminal = new Tmux(
                80, 24, java(), Map.of("XDG_STATE_HOME", folder.toString(), "NO_COLOR", "1", "TERM", "dumb"), "try")) {
            terminal.await("> ");
            terminal.type("work.from(Vessel.class).count()").press("Enter").await("\n60\n");
            assertThat(terminal.colours()).doesNotContain("\u001b[");
            terminal.type(":quit").press("Enter").await("ENDED 0");
        }
        try (Tmux terminal = terminal(java())) {
            terminal.clear().press("Up").await(":quit").press("Up", "Up").await("twice(4)");
            assertThat(terminal.colours()).contains("\u001b[");
        }
    }

    @Test
    void whoLeavesIsAskedForWhatIsPending() {
        try (Tmux terminal = terminal(java(), "--write")) {
            terminal.await("Writing: :commit stores");
            terminal.enter("var dawn = work.require(Vessel.class, 3L)", "rows, ");
            terminal.enter("dawn.rename(\"Dawn\")", "1 pending, ");
            terminal.enter(":quit", "1 pending change would be lost. Leave all the same?");
            terminal.type("no").press("Enter").await("1 pending, ");
            terminal.enter(":commit", "Vessel         0        1        0");
            terminal.enter(":quit", "ENDED 0");
        }
    }

    /** The database works for very long; it is told to stop, and the session goes on. */
    @ParameterizedTest
    @EnumSource
    void aLongStatementIsStopped(TestDatabase database) {
        assumeThat(ALL || database == TestDatabase.POSTGRESQL)
                .as("the others are tried by .ci/terminal")
                .isTrue();
        String endless = switch (database) {
            case H2 -> "select sum(a.x * b.x) as n from system_range(1, 1000000) a, system_range(1, 1000000) b";
            case SQLITE ->
                "with recursive c(x) as (select 1 union all select x + 1 from c) select count(*) as n from c";
            case POSTGRESQL -> "select 1 as n from pg_sleep(300)";
            case MARIADB -> "select sleep(300) as n";
        };
        try (Tmux terminal = terminal(java(), fleet(database.sharedUrl()))) {
            terminal.enter("store.schema().createMissing()", "statements executed");
            terminal.enter(":write", "Writing: ");
            terminal.enter("work.add(new Tug(\"Grim\"))", "1 pending");
            stopped(terminal, "work.sql(\"" + endless + "\").list()");
            terminal.enter("work.add(new Tug(\"Merry\"))", "pending");
            stopped(terminal, ":sql " + endless);
            stopped(terminal, "while (true) { work.sql(\"select 1 as n\").list(); }");
            terminal.enter(":undo", "> ");
            terminal.enter("work.add(new Tug(\"Jolly\"))", "1 pending");
            terminal.enter(":commit", "Tug            1        0        0");
            terminal.enter("work.from(Tug.class).count()", "\n1\n");
        }
    }

    private static void stopped(Tmux terminal, String entry) {
        terminal.clear().type(entry).press("Enter");
        pause();
        terminal.press("C-c").await("stopped");
    }

    /** While the line is read, while it is compiled, or when it has just begun. */
    @Test
    void whoStopsRightBehindEnterIsHeard() throws InterruptedException {
        try (Tmux terminal = terminal(java())) {
            for (int i = 0; i < 25; i++) {
                endless(terminal).pressAtOnce("Enter", "C-c").await("stopped");
            }
            for (int millis = 0; millis <= 400; millis += 40) {
                endless(terminal).press("Enter");
                Thread.sleep(millis);
                terminal.press("C-c").await("stopped");
            }
            terminal.enter("work.from(Vessel.class).count()", "\n60\n");
        }
    }

    /** Twice would be an empty line that is left as well, and what is typed meanwhile would be lost. */
    @Test
    void whoLeavesALineIsHeardOnce() {
        try (Tmux terminal = terminal(java())) {
            terminal.enter("int forty = 40", "forty");
            for (int i = 0; i < 25; i++) {
                terminal.clear()
                        .press("C-r")
                        .type("fo")
                        .await("bck-i-search: fo")
                        .press("C-c");
                terminal.awaitPrompt().type("forty + 9").press("C-c");
                terminal.awaitPrompt().type("forty + 2").press("Enter").await("42");
                assertThat(terminal.screen()).doesNotContain("Ctrl-D");
            }
        }
    }

    private static Tmux endless(Tmux terminal) {
        return terminal.clear().type("while (true) { work.sql(\"select 1 as n\").list(); }");
    }

    /** Long enough for the compiler, and for the database to begin. */
    private static void pause() {
        try {
            Thread.sleep(1_500);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    /** A bar that shows how far it has come must not take Ctrl-C for itself. */
    @Test
    void whoStopsAMeasurementFindsNothingOfItLeft() {
        try (Tmux terminal = new Tmux(
                80,
                24,
                java(),
                Map.of(),
                "measure",
                "--rows",
                "1000000",
                "--url",
                "jdbc:sqlite:" + folder.resolve("sea.db"))) {
            terminal.await("1/14 one by one").await("[");
            pause();
            assertThat(folder.toFile().list()).hasSizeGreaterThan(1);
            terminal.press("C-c").await("interrupted; nothing was stored").await("ENDED 130");
            assertThat(folder.toFile().list()).containsExactly("sea.db");
        }
    }

    /** On newer JDKs what never ends in a method of the model cannot be ended; the session goes on without it. */
    @ParameterizedTest
    @MethodSource("javas")
    void whatNeverEndsIsStopped(Path java) {
        try (Tmux terminal = terminal(java, fleet("jdbc:h2:mem:endless"))) {
            terminal.enter("store.schema().createMissing()", "statements executed");
            stopped(terminal, "while (true) {}");
            terminal.enter("1 + 1", "\n2\n");
            stopped(terminal, "Thread.sleep(1_000_000)");
            terminal.enter("2 + 1", "\n3\n");
            stopped(terminal, "new Tug(\"Grim\").turn()");
            terminal.await("the unit of work is over; work is a new one");
            terminal.enter("work.from(Tug.class).count()", "\n0\n");
            terminal.enter(":quit", "ENDED 0");
        }
    }
}
