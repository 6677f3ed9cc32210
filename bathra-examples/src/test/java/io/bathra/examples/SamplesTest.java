package io.bathra.examples;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.examples.guide.CallWindow;
import io.bathra.examples.guide.Changing;
import io.bathra.examples.guide.Creating;
import io.bathra.examples.guide.Diagnosing;
import io.bathra.examples.guide.Evolving;
import io.bathra.examples.guide.Importing;
import io.bathra.examples.guide.Joining;
import io.bathra.examples.guide.Levels;
import io.bathra.examples.guide.Looking;
import io.bathra.examples.guide.Riding;
import io.bathra.examples.guide.Storing;
import io.bathra.examples.guide.Tuning;
import io.bathra.examples.guide.TwoWays;
import io.bathra.examples.shards.ShardedYards;
import java.io.ByteArrayOutputStream;
import java.io.File;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;
import org.junit.jupiter.api.io.TempDir;

/** Every code sample of the README and the pages in docs stands in a source file of this module, and that file runs. */
class SamplesTest {
    private static final Path ROOT = Path.of("").toAbsolutePath().getParent();
    private static final Pattern JAVADOC_SAMPLE = Pattern.compile("<pre>\\{@code\n(.*?)\\}</pre>", Pattern.DOTALL);
    private static final Pattern SAMPLE = Pattern.compile("```java\n(.*?)```", Pattern.DOTALL);

    @TestFactory
    Stream<DynamicTest> everySampleIsCompiledCode() throws IOException {
        List<String> sources = new ArrayList<>(
                contents(ROOT.resolve("bathra-examples/src"), ".java")); // what is another project's lies in the tests
        sources.addAll(contents(ROOT.resolve("bathra-examples-web/src"), ".java"));
        List<DynamicTest> tests = Stream.concat(
                        Stream.of(ROOT.resolve("README.md")), files(ROOT.resolve("docs"), ".md").stream())
                .flatMap(page -> samples(page)
                        .map(sample -> DynamicTest.dynamicTest(
                                ROOT.relativize(page) + ": "
                                        + sample.lines().findFirst().orElse(""),
                                () -> assertThat(sources)
                                        .as(sample)
                                        .anyMatch(source -> source.contains(flat(sample))))))
                .toList();
        assertThat(tests).isNotEmpty();
        return tests.stream();
    }

    /** What the kit's Javadoc shows stands in tests of this module. */
    @TestFactory
    Stream<DynamicTest> everySampleOfTheKitIsCompiledCode() throws IOException {
        List<String> sources = contents(ROOT.resolve("bathra-examples/src/test"), ".java");
        List<String> samples = files(ROOT.resolve("bathra-junit/src/main"), ".java").stream()
                .map(SamplesTest::read)
                .flatMap(source -> JAVADOC_SAMPLE.matcher(source).results())
                .map(sample -> sample.group(1).replaceAll("(?m)^ *\\* ?", ""))
                .toList();
        assertThat(samples).hasSizeGreaterThanOrEqualTo(5);
        return samples.stream()
                .map(sample -> DynamicTest.dynamicTest(
                        sample.lines().findFirst().orElse(""),
                        () -> assertThat(sources).as(sample).anyMatch(source -> source.contains(flat(sample)))));
    }

    @Test
    void theQuickStartRuns() {
        assertThat(output(() -> QuickStart.main(new String[0])))
                .containsPattern("1  insert +vessel +1 ")
                .containsPattern("2  insert +port_call +1 .*after insert vessel \\(PortCall.vessel\\)")
                .containsPattern("3  insert +movement +2 ")
                .containsPattern("PortCall +0 +1 +0")
                .contains("update port_call set eta = ? where id = ?");
    }

    @Test
    void twoWaysAreCompared(@TempDir Path folder) {
        Path page = folder.resolve("ways.html");
        assertThat(output(() -> TwoWays.main(new String[] {page.toString()})))
                .contains("35 lines one by one, the same at once: true");
        assertThat(page).content().contains("Compared with One by one", "35 ×, 35 rows", "1 ×, 35 rows");
    }

    @Test
    void theWindowAnswers() {
        assertThat(output(() -> CallWindow.main(new String[0])))
                .contains("200 [{\"id\":1,\"number\":\"2026-0001\",\"eta\":\"2026-04-01T06:30\"")
                .contains("\"vessel\":{\"id\":57,\"imo\":\"9387566\",\"name\":\"Brisedronning\"")
                .contains("201 {\"id\":2,\"number\":\"2026-0002\"")
                .contains(
                        "{\"path\":\"colour\",\"value\":\"red\",\"code\":\"unknown-name\",\"words\":\"is not known here\"}")
                .contains("{\"path\":\"vessel\",\"value\":null,\"code\":\"required\",\"words\":\"is required\"}")
                .contains("<li>berth.code is not known</li>")
                .contains("<input name=\"etd\" value=\"later\">")
                .contains("\"eta\":\"2026-04-01T09:00\",\"etd\":null,\"status\":\"EXPECTED\",\"remark\":null");
    }

    @Test
    void askingSaysWhatItSays() {
        assertThat(output(() -> Asking.main(new String[0])))
                .contains("27 arrivals, first Arrival[eta=2026-04-01T20:10, vessel=Nordgull]")
                .contains("with [2026-04-01T00:00, nord%, FIRST]")
                .contains("Month[month=4, status=DEPARTED, calls=72, last=2026-04-30T21:40]")
                .contains("4 long vessels without a valid radio certificate")
                .contains("Förderos (9166558) on page 1, Strandvarde (9124940) on page 2")
                .contains("3 licences beside their pilots");
    }

    @Test
    void shardedYardsSayWhatTheySay() {
        assertThat(output(() -> ShardedYards.main(new String[0])))
                .contains("Ness is on shard 2, H2")
                .containsSubsequence("29924 kg", "29891 kg", "29441 kg")
                .contains("51 boxes are in the yards, 9 on their way")
                .contains("9 have been landed in Ness, 60 are in the yards")
                .contains("0 were left for a second courier")
                .contains("found without its port: BTHU0000015 in Ness");
    }

    @Test
    void graphsSayWhatTheySay() {
        assertThat(output(() -> Graphs.main(new String[0])))
                .contains("400 calls of 22 operators in 4 statements")
                .contains("311 calls with a shift")
                .contains("20 times, 20 rows")
                .contains("fix: findAll(Vessel.class, keys)")
                .contains("the pending call is found: true")
                .contains("5 rows changed, 5 objects followed");
    }

    @Test
    void plainSqlSaysWhatItSays() {
        assertThat(output(() -> PlainSql.main(new String[0])))
                .contains("60 vessels; most often here: Traffic[vessel=Ternros, calls=15]")
                .contains("4 calls cancelled")
                .contains("after: nordgull")
                .contains("gulls, among them true")
                .contains("40 numbers end with 7");
    }

    @Test
    void takingAwayRuns() {
        assertThat(output(() -> TakingAway.main(new String[0])))
                .contains("left to the database's own delete rules: movement, pilotage, port_call, vessel_certificates")
                .containsPattern("delete +movement +1 ")
                .contains("Berth 5.within = Berth 1: leads to an object that is to be removed")
                .contains("16 calls of the first week are gone, by one statement");
    }

    @Test
    void associationsAndPivotsSayWhatTheySay() {
        assertThat(output(() -> Associations.main(new String[0])))
                .contains("the other side shows it: true")
                .containsPattern("3  delete +movement +1  id")
                .contains("0 movements are left");
        assertThat(output(() -> Pivots.main(new String[0])))
                .contains("the other side shows it: true")
                .contains("[N5, N1, N2, N3]")
                .containsPattern("Fairway.buoys +1 +1 +0")
                .contains("2 fairways, standing by in 25 minutes")
                .contains("2 fairways are there still");
    }

    @Test
    void optimisticLockingSaysWhatItSays() {
        assertThat(output(() -> OptimisticLocking.main(new String[0])))
                .contains("[Tank 1 (version 0 was read, but it has 1 now)]")
                .contains("400 tonnes, 'valve checked', revision 2")
                .contains("done at attempt 2: 150 tonnes");
    }

    @Test
    void bulkLoadSaysWhatItSays() {
        assertThat(output(() -> BulkLoad.main(new String[0])))
                .contains("50,000 rows: 50,000 inserted")
                .contains("100 were missing, 50000 were there")
                .contains("1 inserted, 1 updated")
                .contains("1 inserted, 3 rejected")
                .contains("row 4, operator.code = XYZ: names no Operator; store that first, or mend the value")
                .contains("2 pairs added, 1 was there", "1 added, 1 removed, 1 left")
                .contains("Nordlicht Reederei and Zuiderzee Lijn, by 2 statements");
    }

    @Test
    void overlaysAndOldSchemasSayWhatTheySay() {
        assertThat(output(() -> OverlayQueries.main(new String[0])))
                .contains("at berth N1 that day: 1, the draft among them: true")
                .contains("found by its new name: true")
                .contains("others see 400 calls")
                .contains("too long a number for its column: is 32 long");
        assertThat(output(() -> ExistingSchema.main(new String[0])))
                .contains("differs: T_MOORING.ST_CD: it is character(1), but should be varchar(1)")
                .contains("0 moorings are open", "inspection 500: ring is loose")
                .contains("goes along (Inspection.mooring)");
    }

    @Test
    void theProgramsOfTheGuideSayWhatTheirPagesSay() {
        assertThat(output(() -> Creating.main(new String[0])))
                .contains(
                        "create table vessel (",
                        "again: nothing to do; looked at 1",
                        "container.length_feet: there is no such column")
                .contains("differences now: 0");
        assertThat(output(() -> Importing.main(new String[0])))
                .contains("9456783;: name is required; set it")
                .contains("9501239;Kittiwake: imo 9501239 was stored before this import")
                .contains("3 stored, 4 failed");
        assertThat(output(() -> Joining.main(new String[0])))
                .contains("the guest reads Nordlicht II")
                .contains("after the rollback Lunahav is NEW", "after the commit Lunahav is CLEAN");
        assertThat(output(() -> Storing.main(new String[0])))
                .contains("1 call", "because of 2 problems", "imo = 93214834: is 8 long, but the column keeps 7")
                .contains("NEW still; mend it and flush again");
        assertThat(output(() -> Looking.main(new String[0])))
                .contains("one row, one object: true", "3 berths by 2 statements", "3 statements for 50 calls")
                .contains("read it up front with .alongWith(PortCall::berth)");
        assertThat(output(() -> Changing.main(new String[0])))
                .contains("[PortCall 1.eta: 2026-04-01T20:10 -> 2026-04-01T23:10]")
                .containsPattern("Vessel +0 +2 +0")
                .contains("9 rows by one statement", "Nordlicht II\n");
        assertThat(output(() -> Diagnosing.main(new String[0])))
                .contains("28 rows for read PortCall.vessel for 35", "fix: read the owners by one query")
                .contains(
                        "at most 1 statement was expected, but 4 were executed",
                        "must be unique, but Vessel 1 is stored with it")
                .contains("Vessel.imo");
        assertThat(output(() -> Tuning.main(new String[0])))
                .contains("400 arrivals", "257 calls have a remark")
                .containsPattern("PortCall +0 +400 +0");
        assertThat(output(() -> Riding.main(new String[0]))).contains("expected at 20");
        assertThat(output(() -> Levels.main(new String[0]))).contains("4 kinds of calls", "5,000 rows: 5,000 inserted");
        assertThat(output(() -> Evolving.main(new String[0])))
                .contains("1 entity of 'office' compared with 1 file", "  - rename attribute: Pilot.phone", "true");
    }

    /** The module declarations are right when a program of another module runs on the module path. */
    @Test
    void theQuickStartRunsOnTheModulePath() throws IOException, InterruptedException {
        String classPath = System.getProperty("surefire.test.class.path", System.getProperty("java.class.path"));
        String modulePath = Pattern.compile(File.pathSeparator)
                .splitAsStream(classPath)
                .filter(entry -> !entry.contains("test-classes"))
                .filter(entry -> Stream.of(
                                "classes",
                                "bathra-core",
                                "bathra-changes",
                                "bathra-json",
                                "bathra-page",
                                "jackson",
                                "snakeyaml",
                                "slf4j",
                                "commons-csv",
                                "commons-io",
                                "commons-codec",
                                "h2")
                        .anyMatch(entry::contains))
                .collect(Collectors.joining(File.pathSeparator));
        Process process = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "--module-path",
                        modulePath,
                        "--add-modules",
                        "com.h2database",
                        "--module",
                        "io.bathra.examples/io.bathra.examples.QuickStart")
                .redirectErrorStream(true)
                .start();
        String output = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor()).as(output).isZero();
        assertThat(output).contains("update port_call set eta = ? where id = ?");
    }

    private interface Program {
        void run() throws SQLException, IOException;
    }

    private static String output(Program program) {
        PrintStream before = System.out;
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        System.setOut(new PrintStream(bytes, true, StandardCharsets.UTF_8));
        try {
            program.run();
        } catch (SQLException | IOException e) {
            throw new IllegalStateException(e);
        } finally {
            System.setOut(before);
        }
        return bytes.toString(StandardCharsets.UTF_8);
    }

    private static Stream<String> samples(Path page) {
        return SAMPLE.matcher(read(page)).results().map(match -> match.group(1));
    }

    private static String read(Path file) {
        try {
            return Files.readString(file);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static List<String> contents(Path folder, String ending) throws IOException {
        return files(folder, ending).stream().map(file -> flat(read(file))).toList();
    }

    private static List<Path> files(Path folder, String ending) throws IOException {
        try (Stream<Path> files = Files.walk(folder)) {
            return files.filter(file -> file.toString().endsWith(ending)).toList();
        }
    }

    /** Indentation and line breaks are the page's own. */
    private static String flat(String code) {
        return code.replaceAll("\\s+", " ").strip();
    }
}
