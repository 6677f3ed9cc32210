package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.bathra.examples.harbour.Harbour;
import io.bathra.model.EntityOutline;
import java.io.IOException;
import java.io.InputStream;
import java.io.Serializable;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a native image has to be told: whatever is reached by reflection, and nothing that is not. */
class NativeTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final String FERRIES = """
            package ferries;
            import static io.bathra.model.Declare.*;
            import io.bathra.link.Link;
            import io.bathra.model.*;
            import java.util.*;
            final class Ferries {
                static abstract class Named { private String name; public String name() { return name; } }
                record Place(double north, double east) {}
                record Leg(Place from, Place to) {}
                record Number(String company, int number) {}
                static class Engine { private int kilowatts; int kilowatts() { return kilowatts; } }
                static final class Ferry extends Named {
                    private Number number;
                    private Engine engine;
                    private Map<String, Leg> legs = new HashMap<>();
                    private final Link<Quay> home = Link.empty();
                    Number number() { return number; }
                    Engine engine() { return engine; }
                    Map<String, Leg> legs() { return legs; }
                    Link<Quay> home() { return home; }
                }
                static final class Quay { private Long id; Long id() { return id; } }
                static final Model MODEL = Model.of("ferries",
                        Entity.of(Ferry.class, Ferry::new)
                                .key(Ferry::number, assigned())
                                .column(Ferry::name, required())
                                .inline(Ferry::engine)
                                .parts(Ferry::legs),
                        Entity.of(Quay.class, Quay::new).key(Quay::id, generated()));
            }
            """;
    private static final String TIMETABLE = """
            package ferries;
            import io.bathra.UnitOfWork;
            import java.util.List;
            class Timetable {
                record Line(String name, int number) {}
                static List<Line> lines(UnitOfWork work) { return work.from(Ferries.Ferry.class).as(Line.class).list(); }

            }
            """;

    private static final String ELSEWHERE = """
            package ferries;
            record Elsewhere(int a) {
                record Within(int b) {}
            }
            """;

    @TempDir
    private Path folder;

    private final Shell shell = new Shell();

    /** The hints that the tool writes for some classes. */
    private Map<String, JsonNode> reached(Path hints) throws IOException {
        Map<String, JsonNode> reached = new TreeMap<>();
        for (JsonNode one : JSON.readTree(hints.resolve("reflect-config.json").toFile())) {
            reached.put(one.get("name").asText(), one);
        }
        return reached;
    }

    private List<String> referring(Path hints) throws IOException {
        return JSON.readTree(hints.resolve("serialization-config.json").toFile())
                .get("lambdaCapturingTypes")
                .findValuesAsText("name");
    }

    private Path compiled(String... sources) throws IOException {
        Path classes = Files.createDirectories(folder.resolve("classes"));
        List<String> arguments =
                new ArrayList<>(List.of("-cp", System.getProperty("java.class.path"), "-d", classes.toString()));
        for (int i = 0; i < sources.length; i++) {
            arguments.add(Files.writeString(folder.resolve("Source" + i + ".java"), sources[i])
                    .toString());
        }
        assertThat(ToolProvider.getSystemJavaCompiler().run(null, null, null, arguments.toArray(String[]::new)))
                .isZero();
        return classes;
    }

    @Test
    void theHarboursHintsNameEachEntityWhatItHoldsAndAllWhoReferToAttributes() throws Exception {
        Path hints = folder.resolve("hints");

        assertThat(shell.bathra("native", hints)).as(shell.err()).isZero();

        assertThat(shell.out())
                .startsWith(hints.resolve("reflect-config.json").toString())
                .containsPattern("serialization-config.json: \\d+ classes that refer to attributes\n$");
        assertThat(reached(hints).keySet())
                .containsAll(Harbour.MODEL.entities().stream()
                        .filter(entity -> entity.kind() == EntityOutline.Kind.ENTITY)
                        .map(entity -> entity.type().getName())
                        .toList())
                .contains("io.bathra.examples.harbour.Dimensions", "io.bathra.examples.harbour.Certificate")
                .contains("io.bathra.examples.PlainSql$Traffic", "io.bathra.examples.BulkLoad$Weighed");
        assertThat(referring(hints)).containsExactlyElementsOf(withSerializableLambdas());
    }

    /** By another way than the tool's: the compiler gives such a class a method. */
    private static TreeSet<String> withSerializableLambdas() throws Exception {
        Path place = Path.of(Harbour.class
                .getProtectionDomain()
                .getCodeSource()
                .getLocation()
                .toURI());
        if (Files.isDirectory(place)) {
            return withSerializableLambdas(place);
        }
        try (FileSystem jar = FileSystems.newFileSystem(place)) {
            return withSerializableLambdas(jar.getPath("/"));
        }
    }

    private static TreeSet<String> withSerializableLambdas(Path root) throws Exception {
        TreeSet<String> names = new TreeSet<>();
        try (Stream<Path> files = Files.walk(root.resolve("io"))) {
            for (Path file :
                    files.filter(one -> one.toString().endsWith(".class")).toList()) {
                String name =
                        root.relativize(file).toString().replace(".class", "").replace('/', '.');
                Class<?> type = Class.forName(name, false, NativeTest.class.getClassLoader());
                if (Arrays.stream(type.getDeclaredMethods())
                        .anyMatch(method -> method.getName().equals("$deserializeLambda$"))) {
                    names.add(name);
                }
            }
        }
        return names;
    }

    @Test
    void inAProjectOfOnesOwnKeysPartsSuperclassesAndRowsAreFoundAndNothingElse() throws Exception {
        Path classes = compiled(FERRIES, TIMETABLE, ELSEWHERE);
        Path hints = folder.resolve("hints");

        assertThat(shell.bathra("native", "--classpath", classes, "--model", "ferries.Ferries#MODEL", hints))
                .as(shell.err())
                .isZero();

        Map<String, JsonNode> reached = reached(hints);
        assertThat(reached.keySet())
                .containsExactly(
                        "ferries.Ferries$Engine",
                        "ferries.Ferries$Ferry",
                        "ferries.Ferries$Leg",
                        "ferries.Ferries$Named",
                        "ferries.Ferries$Number",
                        "ferries.Ferries$Place",
                        "ferries.Ferries$Quay",
                        "ferries.Timetable$Line");
        assertThat(reached.get("ferries.Ferries$Ferry"))
                .isEqualTo(JSON.readTree("{\"name\":\"ferries.Ferries$Ferry\",\"allDeclaredFields\":true,"
                        + "\"allDeclaredConstructors\":true,\"queryAllDeclaredMethods\":true}"));
        assertThat(reached.get("ferries.Ferries$Number"))
                .isEqualTo(
                        JSON.readTree(
                                "{\"name\":\"ferries.Ferries$Number\",\"allDeclaredFields\":true,"
                                        + "\"allDeclaredConstructors\":true,\"allDeclaredMethods\":true,\"allRecordComponents\":true}"));
        assertThat(referring(hints)).containsExactly("ferries.Ferries");
    }

    @Test
    void aPlaceThatCannotBeReadOrHasNoCallersIsAnErrorAndNothingIsWritten() throws Exception {
        Path hints = folder.resolve("hints");
        Path broken = Files.createDirectories(folder.resolve("broken"));
        Files.writeString(broken.resolve("Broken.class"), "no class at all");

        assertThat(shell.bathra(
                        "native", "--classpath", broken, "--model", "io.bathra.examples.harbour.Harbour#MODEL", hints))
                .isEqualTo(1);
        assertThat(shell.err())
                .contains(broken + " cannot be read: " + broken.resolve("Broken.class") + ": no class file");

        Path empty = Files.createDirectories(folder.resolve("empty"));
        assertThat(shell.bathra(
                        "native", "--classpath", empty, "--model", "io.bathra.examples.harbour.Harbour#MODEL", hints))
                .isEqualTo(1);
        assertThat(shell.err())
                .contains("no class of [" + empty + "] refers to an attribute")
                .contains("--classpath");
        assertThat(hints).doesNotExist();
    }

    @Test
    void whatTheLibraryBringsAlongNamesClassesAndTextsThatAreThere() throws Exception {
        ClassLoader loader = NativeTest.class.getClassLoader();
        for (String name :
                brought("bathra-core/serialization-config.json").get("types").findValuesAsText("name")) {
            Class<?> type = Class.forName(name, false, loader);
            assertThat(Serializable.class.isAssignableFrom(type) || type == Number.class)
                    .as(name)
                    .isTrue();
        }
        for (JsonNode one : brought("bathra-core/reflect-config.json")) {
            assertThat(Class.forName(one.get("name").asText(), false, loader)).isNotNull();
        }
        for (JsonNode bundle : brought("bathra-core/resource-config.json").get("bundles")) {
            for (JsonNode locale : bundle.get("locales")) {
                String end = locale.asText().isEmpty() ? "" : "_" + locale.asText();
                String file = bundle.get("name").asText().replace('.', '/') + end + ".properties";
                assertThat(loader.getResource(file)).as(file).isNotNull();
            }
        }
        for (String pattern : brought("bathra-page/resource-config.json").findValuesAsText("pattern")) {
            String file = pattern.replace("\\Q", "").replace("\\E", "");
            assertThat(loader.getResource(file)).as(file).isNotNull();
        }
    }

    private static JsonNode brought(String name) throws IOException {
        try (InputStream in = Objects.requireNonNull(
                NativeTest.class.getResourceAsStream("/META-INF/native-image/io.bathra/" + name), name)) {
            return JSON.readTree(in);
        }
    }
}
