package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.bathra.jdbc.UrlDataSource;
import io.bathra.testing.TestDatabase;
import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.MatchResult;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Models shown, created and verified: the harbour's, and one that lies outside. */
class ModelTest {
    /** The page that makes a project of one's own. */
    private static final Path PAGE = Path.of("").toAbsolutePath().resolveSibling("docs/guide/your-own-model.md");

    private static final Pattern JAVA = Pattern.compile("```java\n(.*?)```", Pattern.DOTALL);
    private static final Pattern TYPE = Pattern.compile("public final class (\\w+)");
    private static final Pattern COMMAND = Pattern.compile("(?m)^(bathra|printf) (.*)$");
    private static final String FLEET = "com.example.fleet.Fleet";

    @TempDir
    private Path folder;

    private final Shell shell = new Shell();

    /** The project of the page, compiled. */
    private Path fleet() throws IOException {
        Path sources = Files.createDirectories(folder.resolve("sources"));
        Path classes = Files.createDirectories(folder.resolve("classes"));
        List<String> arguments =
                new ArrayList<>(List.of("-cp", System.getProperty("java.class.path"), "-d", classes.toString()));
        for (MatchResult found : JAVA.matcher(Files.readString(PAGE)).results().toList()) {
            Matcher type = TYPE.matcher(found.group(1));
            assertThat(type.find()).isTrue();
            arguments.add(Files.writeString(sources.resolve(type.group(1) + ".java"), found.group(1))
                    .toString());
        }
        int failed = ToolProvider.getSystemJavaCompiler().run(null, null, null, arguments.toArray(String[]::new));
        assertThat(failed).isZero();
        Path service = classes.resolve("META-INF/services/io.bathra.model.ModelSource");
        Files.createDirectories(service.getParent());
        Files.writeString(service, FLEET + "\n");
        return classes;
    }

    @Test
    void aModelFromOutsideIsShownCreatedAndLoadedAsThePageSays() throws Exception {
        Path classes = fleet();
        String url = "jdbc:sqlite:" + folder.resolve("fleet.db");
        List<Integer> codes = new ArrayList<>();
        StringBuilder said = new StringBuilder();
        for (MatchResult command :
                COMMAND.matcher(Files.readString(PAGE)).results().toList()) {
            String line = command.group();
            if (line.startsWith("printf")) {
                Process shellOfSystem = new ProcessBuilder("sh", "-c", line)
                        .directory(folder.toFile())
                        .start();
                assertThat(shellOfSystem.waitFor()).isZero();
                continue;
            }
            List<Object> words = new ArrayList<>();
            for (String word : command.group(2).split(" ")) {
                words.add(
                        word.equals("target/classes")
                                ? classes
                                : word.endsWith(".csv") || word.endsWith(".svg") ? folder.resolve(word) : word);
            }
            if (!words.get(0).equals("show")) {
                words.addAll(List.of("--url", url));
            }
            codes.add(shell.bathra(words.toArray()));
            said.append(shell.out()).append(shell.err());
        }
        assertThat(codes).as(said.toString()).containsExactly(0, 0, 0, 0, 3);
        assertThat(said)
                .contains("model fleet", "one      truck -> Truck, on delete cascade")
                .contains("create table truck (")
                .containsPattern("trips.csv: 3 lines into Trip, on SQLite");
        assertThat(folder.resolve("trips.rejected.csv"))
                .content()
                .contains("3,truck.plate,\"'HH-BT 9' names no Truck")
                .contains("4,kilometres,'-5' breaks the check");

        Path settings = Files.writeString(
                folder.resolve("fleet.properties"),
                "url=" + url + "\nclasspath=" + classes + "\nmodel=" + FLEET + "#MODEL\n");
        assertThat(shell.bathra("schema", "verify", "--settings", settings)).isZero();
        assertThat(shell.err()).contains("no difference: 'fleet' compared with SQLite", "looked at 2 tables, ");
    }

    @Test
    void whatLeadsToNoModelIsSaid() throws IOException {
        Path classes = fleet();
        Map<String, String> wrong = Map.of(
                FLEET,
                "--model takes a class and a static field, such as com.example.Fleet#MODEL",
                "com.example.Flit#MODEL",
                "there is no class com.example.Flit on the class path",
                FLEET + "#MODELS",
                FLEET + " has no field MODELS",
                "java.lang.Long#MAX_VALUE",
                "java.lang.Long#MAX_VALUE is no static field with a Model");
        wrong.forEach((model, reason) -> {
            assertThat(shell.bathra("show", "--classpath", classes, "--model", model))
                    .isEqualTo(1);
            assertThat(shell.err()).contains(reason);
        });
        Files.delete(classes.resolve("META-INF/services/io.bathra.model.ModelSource"));
        assertThat(shell.bathra("show", "--classpath", classes)).isEqualTo(1);
        assertThat(shell.err()).contains("names no ModelSource in META-INF/services/io.bathra.model.ModelSource");
        assertThat(shell.bathra("show", "--classpath", folder + File.pathSeparator + "nowhere"))
                .isEqualTo(1);
        assertThat(shell.err()).contains("nowhere, which --classpath names; build it, or mend the path");
        Path settings = Files.writeString(folder.resolve("odd.properties"), "urls=jdbc:h2:mem:x\n");
        assertThat(shell.bathra("show", "--settings", settings)).isEqualTo(1);
        assertThat(shell.err()).contains("has [urls], but the settings are [url, user, password, model, classpath]");
    }

    @Test
    void whichClassFailsAndWhyIsSaid() throws IOException {
        Path classes = fleet();
        Path truck = classes.resolve("com/example/fleet/Truck.class");
        byte[] whole = Files.readAllBytes(truck);
        byte[] later = whole.clone();
        later[7] = 99; // the major version of the class file
        Files.write(truck, later);
        for (List<String> way : List.of(List.<String>of(), List.of("--model", FLEET + "#MODEL"))) {
            List<Object> words = new ArrayList<>(List.of("show", "--classpath", classes));
            words.addAll(way);
            Files.write(truck, later);
            assertThat(shell.bathra(words.toArray())).isEqualTo(1);
            assertThat(shell.err())
                    .contains(FLEET
                            + " cannot be used: com.example.fleet.Truck has been compiled by a more recent version")
                    .contains("or compile with --release " + Runtime.version().feature());
            Files.delete(truck);
            assertThat(shell.bathra(words.toArray())).isEqualTo(1);
            assertThat(shell.err())
                    .contains(FLEET + " cannot be used: it needs the class com.example.fleet.Truck, which is not there;"
                            + " add its jar or folder to --classpath");
        }
        Path service = classes.resolve("META-INF/services/io.bathra.model.ModelSource");
        Files.writeString(service, "com.example.Flit\n");
        assertThat(shell.bathra("show", "--classpath", classes)).isEqualTo(1);
        assertThat(shell.err()).contains("Provider com.example.Flit not found");
    }

    @Test
    void theHarbourIsShownAsTextAsJsonAndDrawn() throws IOException {
        assertThat(shell.bathra("show")).isZero();
        assertThat(shell.out()).startsWith("model harbour\n\nOperator in operator");
        assertThat(shell.bathra("show", "container", "port_call")).isZero();
        assertThat(shell.out()).startsWith("Container in container").contains("\n\nPortCall in port_call");
        assertThat(shell.bathra("show", "--json")).isZero();
        JsonNode vessel =
                new ObjectMapper().readTree(shell.out()).get("entities").get(1);
        assertThat(vessel.get("name").asText()).isEqualTo("Vessel");
        assertThat(vessel.get("links").get(0).get("onDelete").asText()).isEqualTo("SET_NULL");
        assertThat(vessel.get("columns").get(1).get("type").asText()).isEqualTo("text(7)");
        for (String ending : new String[] {"svg", "png"}) {
            Path drawing = folder.resolve("harbour." + ending);
            assertThat(shell.bathra("show", "--draw", drawing)).as(shell.err()).isZero();
            assertThat(shell.err()).contains("drawn into " + drawing);
            assertThat(Files.size(drawing)).isGreaterThan(5_000);
        }
        assertThat(shell.bathra("show", "--draw", folder.resolve("harbour.pdf")))
                .isEqualTo(1);
        assertThat(shell.err()).contains("has to end with .svg or .png");
    }

    @ParameterizedTest
    @EnumSource(TestDatabase.class)
    void differencesAreListedByTable(TestDatabase where) throws IOException {
        String url = where.sharedUrl();
        assertThat(shell.bathra("schema", "verify", "--url", url)).isEqualTo(3);
        assertThat(shell.out()).contains("operator\n  ! there is no such table");
        assertThat(shell.bathra("schema", "create", "--url", url)).isZero();
        assertThat(shell.err()).contains(" statements executed on ");
        assertThat(shell.bathra("schema", "create", "--url", url)).isZero();
        assertThat(shell.err()).contains("nothing to do: all of 'harbour' is there, on ", "looked at 10 tables, ");
        TestDatabase.execute(new UrlDataSource(url, null, null), "alter table vessel add column nickname varchar(20)");
        TestDatabase.execute(new UrlDataSource(url, null, null), "drop table licence");
        assertThat(shell.bathra("schema", "verify", "--url", url)).isEqualTo(3);
        assertThat(shell.out().replace("NICKNAME", "nickname"))
                .contains("vessel\n  ~ nickname: the model knows no such column")
                .contains("licence\n  ! there is no such table");
        assertThat(shell.err()).contains("2 differences (! has to be mended, ~ is more than the model asks for)");
        assertThat(shell.bathra("schema", "verify", "--url", url, "--json")).isEqualTo(3);
        assertThat(shell.out()).contains("LACKING", "BEYOND");
        assertThat(new ObjectMapper().readTree(shell.out())).hasSize(2);
        assertThat(shell.bathra("schema", "print", "--dialect", where.name().toLowerCase(Locale.ROOT)))
                .isZero();
        String printed = shell.out();
        assertThat(shell.bathra("schema", "print", "--url", url)).isZero();
        assertThat(printed)
                .isEqualTo(shell.out())
                .contains("create table container (")
                .contains(";\n");
    }

    @ParameterizedTest
    @EnumSource(TestDatabase.class)
    void generatorsThatLagBehindAreMovedOn(TestDatabase where) {
        String url = where.sharedUrl();
        assertThat(shell.bathra("schema", "create", "--url", url)).isZero();
        UrlDataSource source = new UrlDataSource(url, null, null);
        TestDatabase.execute(source, "insert into operator (id, code, name) values (4000, 'NLX', 'Nordlicht')");
        if (where == TestDatabase.SQLITE) {
            TestDatabase.execute(source, "update sqlite_sequence set seq = 0 where name = 'operator'");
        }
        assertThat(shell.bathra("schema", "verify", "--url", url)).isEqualTo(3);
        assertThat(shell.out()).contains("operator\n  ! id: the key 4000 is stored, but the generator is at ");
        assertThat(shell.bathra("schema", "verify", "--move-generators", "--url", url))
                .isZero();
        assertThat(shell.err()).contains("moved on: operator.id: the key 4000 is stored", "no difference: 'harbour'");
        assertThat(shell.bathra("schema", "verify", "--move-generators", "--url", url))
                .isZero();
        assertThat(shell.err()).contains("no generator lags behind");
    }
}
