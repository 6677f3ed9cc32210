package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assumptions.assumeThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.bathra.Store;
import io.bathra.cli.measure.Yard;
import io.bathra.examples.harbour.Harbour;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import javax.imageio.ImageIO;
import org.h2.tools.Server;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Ways compared on each database: what is measured, and that nothing is left of it. */
@Tag("exhaustive")
class MeasureTest {
    private static final String YARD = Yard.class.getName() + "#MODEL";

    @TempDir
    private Path folder;

    private final Shell shell = new Shell();
    private @Nullable Server server;

    @Test
    void containersAreMeasuredWithoutADatabase() throws IOException {
        Path chart = folder.resolve("ways.png");
        assertThat(shell.bathra("measure", "--rows", 200, "--seconds", 2, "--chart", chart))
                .as(shell.err())
                .isZero();
        assertThat(shell.out())
                .contains("200 rows of Container on H2, at most 2 s for each way")
                .containsPattern("one by one, a commit each +[\\d,]+ +200 +400 ")
                .containsPattern("bulk insert +[\\d,]+ +1 +2 ")
                .containsPattern("a list, operator read for all +[\\d,]+ +2 +3 ")
                .contains("not measured: parents with children, since Container has neither parts nor");
        assertThat(ImageIO.read(chart.toFile()).getWidth()).isEqualTo(1_000);
    }

    @ParameterizedTest
    @EnumSource
    void aModelOfOnesOwnIsMeasuredAndNothingOfItStays(TestDatabase database) throws IOException {
        String url = database.sharedUrl();
        try (Store store = Store.open(Harbour.MODEL, url)) {
            store.schema().createMissing();
            List<String> before = placesOf(store, url);
            Path chart = folder.resolve("ways.svg");
            assertThat(shell.bathra(
                            "measure",
                            "slot",
                            "--model",
                            YARD,
                            "--url",
                            url,
                            "--rows",
                            150,
                            "--seconds",
                            5,
                            "--json",
                            "--chart",
                            chart))
                    .as(shell.err())
                    .isZero();
            JsonNode report = new ObjectMapper().readTree(shell.out());
            List<String> ways = new ArrayList<>();
            report.get("results").forEach(result -> {
                ways.add(result.get("way").asText());
                assertThat(result.get("failure").isNull()).as(result.toString()).isTrue();
                assertThat(result.get("rows").asLong()).as(result.toString()).isGreaterThanOrEqualTo(150);
                assertThat(result.get("statements").asInt()).isPositive();
            });
            assertThat(ways)
                    .hasSizeGreaterThanOrEqualTo(14)
                    .contains("upsert, none changed", "units of 100, with parts and children");
            assertThat(chart).content().contains("Slot on ", "upsert, all changed");
            assertThat(placesOf(store, url)).isEqualTo(before);
        }
    }

    /** Whatever is kept in schemas or files that may be of a measurement. */
    private static List<String> placesOf(Store store, String url) throws IOException {
        if (!url.startsWith("jdbc:sqlite:")) {
            return store.sql("select schema_name from information_schema.schemata"
                            + " where lower(schema_name) like 'bathra_measure%' order by schema_name")
                    .as(String.class)
                    .list();
        }
        String file = url.substring("jdbc:sqlite:".length(), url.indexOf('?'));
        try (Stream<Path> files = Files.list(Path.of(file).getParent())) {
            return files.map(Path::toString)
                    .filter(name -> name.startsWith(file) && !name.endsWith("-wal") && !name.endsWith("-shm"))
                    .sorted()
                    .toList();
        }
    }

    @ParameterizedTest
    @EnumSource
    void whoeverIsInterruptedCleansUpAndWhatWasKilledIsNamed(TestDatabase database) throws Exception {
        assumeThat(Path.of("/bin/kill")).exists();
        String url = served(database);
        try (Store store = Store.open(Harbour.MODEL, url)) {
            store.sql("create table berths_of_mine (id integer)").execute();
            List<String> before = placesOf(store, url);
            Process child = child(url);
            awaitOneMore(store, url, before, child);
            signal(child, "-TERM"); // as Ctrl-C, which whoever runs in the background may be told to ignore
            String said = new String(child.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            assertThat(child.waitFor()).as(said).isEqualTo(143);
            assertThat(said).contains("interrupted");
            assertThat(placesOf(store, url)).isEqualTo(before);

            Process killed = child(url);
            awaitOneMore(store, url, before, killed);
            signal(killed, "-KILL");
            killed.waitFor();
            assertThat(shell.bathra("measure", "Ring", "--model", YARD, "--url", url))
                    .isEqualTo(1);
            assertThat(shell.err()).contains("an earlier run has left ", "--remove-leftovers takes it away");
            assertThat(shell.bathra("measure", "--rows", 1, "--seconds", 1, "--url", url, "--remove-leftovers"))
                    .as(shell.err())
                    .isZero();
            assertThat(shell.err()).contains("removed ");
            assertThat(placesOf(store, url)).isEqualTo(before);
        }
    }

    /** A database in a server: on H2, whoever has the file open would serve it to others, and close it as he ends. */
    private String served(TestDatabase database) throws SQLException {
        if (database != TestDatabase.H2) {
            return database.sharedUrl();
        }
        server = Server.createTcpServer("-ifNotExists", "-tcpPort", "0").start();
        return "jdbc:h2:tcp://localhost:" + server.getPort() + "/" + folder.resolve("served");
    }

    @AfterEach
    void stop() {
        if (server != null) {
            server.stop();
        }
    }

    private static void awaitOneMore(Store store, String url, List<String> before, Process child) throws Exception {
        while (placesOf(store, url).equals(before)) {
            assertThat(child.isAlive()).isTrue();
            Thread.sleep(50);
        }
        Thread.sleep(700); // in the middle of something
    }

    private static Process child(String url) throws IOException {
        return new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-XX:TieredStopAtLevel=1",
                        "-cp",
                        System.getProperty("surefire.test.class.path", System.getProperty("java.class.path")),
                        Bathra.class.getName(),
                        "measure",
                        "--url",
                        url,
                        "--rows",
                        "1000000",
                        "--seconds",
                        "100")
                .redirectErrorStream(true)
                .start();
    }

    private static void signal(Process child, String signal) throws Exception {
        new ProcessBuilder("/bin/kill", signal, String.valueOf(child.pid()))
                .start()
                .waitFor();
    }

    /** On a server, since there no machine is fast enough for a commit a row, and no disk is waited for. */
    @Test
    void aWayThatRunsOutOfTimeIsSaidTo() {
        assertThat(shell.bathra(
                        "measure", "--rows", 15_000, "--seconds", 1, "--url", TestDatabase.POSTGRESQL.sharedUrl()))
                .as(shell.err())
                .isZero();
        assertThat(shell.out())
                .containsPattern("one by one, a commit each +[\\d,.]+\\* ")
                .containsPattern("\\* its time was over: one by one, a commit each, after [\\d,]+ rows");
    }

    @Test
    void whoMayNotMakeASchemaIsToldWhatToGrant() {
        String postgres = TestDatabase.POSTGRESQL.sharedUrl();
        try (Store store = Store.open(Harbour.MODEL, postgres)) {
            store.sql("drop role if exists clerk").execute();
            store.sql("create role clerk login password 'clerk'").execute();
            String url = postgres.replace("user=postgres", "user=clerk&password=clerk");
            assertThat(shell.bathra("measure", "--url", url)).isEqualTo(1);
            assertThat(shell.err())
                    .contains("no schema of its own can be made", "grant create on database ... to the user");
            store.sql("drop role clerk").execute();
        }
        String h2 = TestDatabase.H2.sharedUrl();
        try (Store store = Store.open(Harbour.MODEL, h2)) {
            store.sql("create user clerk password 'clerk'").execute();
            assertThat(shell.bathra("measure", "--url", h2, "--user", "clerk", "--password", "clerk"))
                    .isEqualTo(1);
            assertThat(shell.err()).contains("make the user an administrator");
        }
    }

    @Test
    void whatCannotBeMeasuredIsSaidTo() {
        assertThat(shell.bathra("measure", "--model", YARD)).isEqualTo(2);
        assertThat(shell.err()).contains("name an entity of the model 'yard': Block, Slot, Stay, Ring");
        assertThat(shell.bathra("measure", "Ring", "--model", YARD)).isEqualTo(1);
        assertThat(shell.err()).contains("each Ring leads to a Ring, and that back again");
        assertThat(shell.bathra("measure", "--rows", 0)).isEqualTo(2);
        assertThat(shell.bathra("measure", "--chart", "ways.gif")).isEqualTo(1);
        assertThat(shell.err()).contains("has to end with .svg or .png");
        assertThat(shell.bathra("measure", "Ship")).isEqualTo(1);
        assertThat(shell.err()).contains("has no entity 'Ship'");
    }
}
