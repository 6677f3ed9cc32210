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
import java.util.Locale;
import java.util.Map;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Models shown, created and verified: the harbour's, and one that lies outside. */
class ModelTest {
    private static final String FLEET = """
            package com.example;

            import static io.bathra.model.Declare.*;

            import io.bathra.link.Link;
            import io.bathra.model.*;
            import java.lang.invoke.MethodHandles;
            import java.time.LocalDate;

            public final class Fleet implements ModelSource {
                static final class Truck {
                    private Long id;
                    private String plate;
                    private LocalDate bought;
                    String plate() { return plate; }
                }

                static final class Trip {
                    private Long id;
                    private int kilometres;
                    private final Link<Truck> truck = Link.empty();
                    Link<Truck> truck() { return truck; }
                }

                static final Model MODEL = Model.of("fleet", MethodHandles.lookup(),
                        Entity.of(Truck.class, Truck::new).column(Truck::plate, required(), length(10), unique()),
                        Entity.of(Trip.class, Trip::new).link(Trip::truck, required(), onDelete(DeleteRule.CASCADE)));

                public Model model() { return MODEL; }
            }
            """;

    @TempDir
    private Path folder;

    private final Shell shell = new Shell();

    private Path fleet() throws IOException {
        Path source = folder.resolve("com/example/Fleet.java");
        Files.createDirectories(source.getParent());
        Files.writeString(source, FLEET);
        int failed = ToolProvider.getSystemJavaCompiler()
                .run(null, null, null, "-cp", System.getProperty("java.class.path"), source.toString());
        assertThat(failed).isZero();
        Path service = folder.resolve("META-INF/services/io.bathra.model.ModelSource");
        Files.createDirectories(service.getParent());
        Files.writeString(service, "com.example.Fleet\n");
        return folder;
    }

    @Test
    void aModelFromOutsideIsShownCreatedAndLoaded() throws IOException {
        Path classes = fleet();
        assertThat(shell.bathra("show", "--classpath", classes)).as(shell.err()).isZero();
        assertThat(shell.out()).startsWith("model fleet").contains("one      truck -> Truck, on delete cascade");
        Path settings = Files.writeString(
                folder.resolve("fleet.properties"),
                "url=jdbc:sqlite:" + folder.resolve("fleet.db") + "\nclasspath=" + classes
                        + "\nmodel=com.example.Fleet#MODEL\n");
        assertThat(shell.bathra("schema", "create", "--settings", settings))
                .as(shell.err())
                .isZero();
        assertThat(shell.out()).contains("create table truck (");
        Path trucks = Files.writeString(folder.resolve("trucks.csv"), "plate,bought\nHH-BT 1,2024-05-01\nHH-BT 2,\n");
        assertThat(shell.bathra("load", "Truck", trucks, "--settings", settings))
                .as(shell.err())
                .isZero();
        Path trips = Files.writeString(folder.resolve("trips.csv"), "kilometres,truck.plate\n120,HH-BT 2\n");
        assertThat(shell.bathra("load", "Trip", trips, "--settings", settings))
                .as(shell.err())
                .isZero();
        assertThat(shell.bathra("schema", "verify", "--settings", settings)).isZero();
        assertThat(shell.err()).contains("no difference: 2 tables of 'fleet' compared, on SQLite");
    }

    @Test
    void whatLeadsToNoModelIsSaid() throws IOException {
        Path classes = fleet();
        Map<String, String> wrong = Map.of(
                "com.example.Fleet", "--model takes a class and a static field, such as com.example.Fleet#MODEL",
                "com.example.Flit#MODEL", "there is no class com.example.Flit on the class path",
                "com.example.Fleet#MODELS", "com.example.Fleet has no field MODELS",
                "java.lang.Long#MAX_VALUE", "java.lang.Long#MAX_VALUE is no static field with a Model");
        wrong.forEach((model, reason) -> {
            assertThat(shell.bathra("show", "--classpath", classes, "--model", model))
                    .isEqualTo(1);
            assertThat(shell.err()).contains(reason);
        });
        Files.delete(folder.resolve("META-INF/services/io.bathra.model.ModelSource"));
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
        assertThat(shell.err()).contains("nothing to do: all tables of 'harbour' are there");
        TestDatabase.execute(new UrlDataSource(url, null, null), "alter table vessel add column nickname varchar(20)");
        TestDatabase.execute(new UrlDataSource(url, null, null), "drop table licence");
        assertThat(shell.bathra("schema", "verify", "--url", url)).isEqualTo(3);
        assertThat(shell.out().replace("NICKNAME", "nickname"))
                .contains("vessel\n  ~ nickname: the model knows no such column")
                .contains("licence\n  ! there is no such table");
        assertThat(shell.err()).contains("2 differences (! has to be mended, ~ is more than the model asks for)");
        assertThat(shell.bathra("schema", "verify", "--url", url, "--json")).isEqualTo(3);
        assertThat(new ObjectMapper().readTree(shell.out())).hasSize(2);
        assertThat(shell.bathra("schema", "print", "--for", where.name().toLowerCase(Locale.ROOT)))
                .isZero();
        String printed = shell.out();
        assertThat(shell.bathra("schema", "print", "--url", url)).isZero();
        assertThat(printed)
                .isEqualTo(shell.out())
                .contains("create table container (")
                .contains(";\n");
    }
}
