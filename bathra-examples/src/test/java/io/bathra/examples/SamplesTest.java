package io.bathra.examples;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.File;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;

/** Every code sample of the README and the pages in docs stands in a source file of this module, and that file runs. */
class SamplesTest {
    private static final Path ROOT = Path.of("").toAbsolutePath().getParent();
    private static final Pattern SAMPLE = Pattern.compile("```java\n(.*?)```", Pattern.DOTALL);

    @TestFactory
    Stream<DynamicTest> everySampleIsCompiledCode() throws IOException {
        List<String> sources = contents(ROOT.resolve("bathra-examples/src/main/java"), ".java");
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
    void graphsSayWhatTheySay() {
        assertThat(output(() -> Graphs.main(new String[0])))
                .contains("400 calls of 22 operators in 4 statements")
                .contains("311 calls with a shift")
                .contains("20 times, 20 rows")
                .contains("mend: findAll(Vessel.class, keys)")
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

    /** The module declarations are right when a program of another module runs on the module path. */
    @Test
    void theQuickStartRunsOnTheModulePath() throws IOException, InterruptedException {
        String classPath = System.getProperty("surefire.test.class.path", System.getProperty("java.class.path"));
        String modulePath = Pattern.compile(File.pathSeparator)
                .splitAsStream(classPath)
                .filter(entry -> !entry.contains("test-classes"))
                .filter(entry -> Stream.of(
                                "classes", "bathra-core", "slf4j", "commons-csv", "commons-io", "commons-codec", "h2")
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

    private static String output(Runnable program) {
        PrintStream before = System.out;
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        System.setOut(new PrintStream(bytes, true, StandardCharsets.UTF_8));
        try {
            program.run();
        } finally {
            System.setOut(before);
        }
        return bytes.toString(StandardCharsets.UTF_8);
    }

    private static Stream<String> samples(Path page) {
        try {
            return SAMPLE.matcher(Files.readString(page)).results().map(match -> match.group(1));
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static List<String> contents(Path folder, String ending) throws IOException {
        return files(folder, ending).stream()
                .map(file -> {
                    try {
                        return flat(Files.readString(file));
                    } catch (IOException e) {
                        throw new IllegalStateException(e);
                    }
                })
                .toList();
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
