package io.bathra.examples;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.StringWriter;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import javax.tools.JavaFileObject;
import javax.tools.SimpleJavaFileObject;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;
import org.junit.jupiter.api.io.TempDir;

/**
 * Every sample in the library's Javadoc compiles against the harbour office, so that none names what does not exist.
 */
class JavadocSamplesTest {
    private static final List<Path> SOURCES = Stream.of("bathra-core", "bathra-json")
            .map(module -> Path.of("..", module, "src", "main", "java"))
            .toList();
    private static final Pattern SAMPLE = Pattern.compile("<pre>\\{@code(.*?)\\}</pre>", Pattern.DOTALL);

    /** What samples take for granted. */
    private static final String FRAME = """
            package io.bathra.examples.harbour;
            import static io.bathra.Isolation.*;
            import static io.bathra.Terms.*;
            import static io.bathra.bulk.On.on;
            import static io.bathra.bulk.Overwrite.overwrite;
            import static io.bathra.examples.harbour.CallStatus.*;
            import static io.bathra.examples.harbour.Harbour.*;
            import static io.bathra.model.Declare.*;
            import static io.bathra.query.Ask.*;
            import io.bathra.*;
            import io.bathra.attr.*;
            import io.bathra.bulk.*;
            import io.bathra.error.*;
            import io.bathra.json.*;
            import io.bathra.link.*;
            import io.bathra.model.*;
            import io.bathra.query.*;
            import java.time.*;
            import java.util.*;
            class Sample {
                Store store;
                UnitOfWork work;
                LocalDateTime eta, today, now;
                String imo, name;
                List<String> imos;
                List<Container> containers;
                PortCall call;
                Map<String, String> form;
                EntityJson json;
                static final JsonShape<PortCall> SHAPE = JsonShape.of(PortCall.class);
                void show(Object... things) {}
                record Arrival(LocalDateTime eta, String vessel) {}
                record Tally(CallStatus status, long calls) {}
                record Tonnage(Long operatorId, long tonnes) {}
                record Imo(String digits) { static Imo of(String digits) { return new Imo(digits); } }
                static class Ship { Imo imo; Imo imo() { return imo; } }
                %s
                void sample() throws Exception {
                    %s
                }
            }
            """;

    @TempDir
    private Path target;

    @TestFactory
    Stream<DynamicTest> compiles() throws IOException {
        List<DynamicTest> tests = new ArrayList<>();
        for (Path sources : SOURCES) {
            for (Path file : files(sources)) {
                Matcher samples = SAMPLE.matcher(Files.readString(file));
                while (samples.find()) {
                    String sample =
                            samples.group(1).replaceAll("(?m)^\\s*\\* ?", "").strip();
                    tests.add(DynamicTest.dynamicTest(
                            file.getFileName() + ": "
                                    + sample.lines().findFirst().orElse(""),
                            () -> assertThat(compiled(sample)).isEmpty()));
                }
            }
        }
        assertThat(tests).hasSizeGreaterThan(20);
        return tests.stream();
    }

    private static List<Path> files(Path sources) throws IOException {
        try (Stream<Path> files = Files.walk(sources)) {
            return files.filter(one -> one.toString().endsWith(".java"))
                    .sorted()
                    .toList();
        }
    }

    /** What the compiler has against a sample. */
    private String compiled(String sample) {
        StringBuilder members = new StringBuilder();
        StringBuilder statements = new StringBuilder();
        for (String paragraph : sample.split("\n\\s*\n")) {
            boolean member = paragraph.matches("(?s)(public |private |static |final )+.*");
            boolean expression = !member && !paragraph.endsWith(";") && !paragraph.endsWith("}");
            (member ? members : statements)
                    .append(expression ? "Object it = " + paragraph + ";" : paragraph)
                    .append('\n');
        }
        String source = FRAME.formatted(members, statements);
        StringWriter faults = new StringWriter();
        ToolProvider.getSystemJavaCompiler()
                .getTask(
                        faults,
                        null,
                        null,
                        List.of(
                                "-d",
                                target.toString(),
                                "-proc:none",
                                "-classpath",
                                System.getProperty("java.class.path")),
                        null,
                        List.of(
                                new SimpleJavaFileObject(
                                        URI.create("string:///Sample.java"), JavaFileObject.Kind.SOURCE) {
                                    @Override
                                    public CharSequence getCharContent(boolean ignoring) {
                                        return source;
                                    }
                                }))
                .call();
        return faults.toString();
    }
}
