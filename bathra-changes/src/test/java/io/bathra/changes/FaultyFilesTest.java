package io.bathra.changes;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.evolve.FaultyChange;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Whatever is wrong with a file is told with its place, what it is, and what to do. */
class FaultyFilesTest {
    /** What stands before the faulty file. */
    private static final String FIRST = """
            bathra: 1
            steps:
              - create entity: Pilot
                key: [id]
                keys: generated
                attributes:
                  id: long
                  badge: { type: text 3, required: true }
                  phone: text 20
                unique: [[badge]]
              - create entity: Seal
                key: [number]
                attributes: { number: text 20 }
                links:
                  pilot: { to: Pilot, required: true, on delete: cascade }
            """;

    @TempDir
    Path folder;

    /**
     * A faulty step.
     *
     * @param text the lines behind the dash
     * @param place line and column in the file, in which the step begins in line 4 and column 5
     * @param words some of what is to be told
     */
    private record Fault(String text, String place, String... words) {}

    static Stream<Fault> faults() {
        return Stream.of(
                new Fault(
                        "add atribute: Pilot.name\n    type: text 80",
                        "4:5",
                        "no step 'add atribute'",
                        "'add attribute'"),
                new Fault("add attribute: Pilt.name\n    type: text 80", "4:20", "no 'Pilt'", "'Pilot'"),
                new Fault("add attribute: name\n    type: text 80", "4:20", "names no attribute", "Entity.attribute"),
                new Fault("add attribute: Pilot.phone\n    type: text 20", "4:5", "has 'phone' here already"),
                new Fault("add attribute: Pilot.name", "4:5", "has no 'type'"),
                new Fault("add attribute: Pilot.name\n    type: txt 80", "5:11", "no type 'txt 80'", "text 80"),
                new Fault("add attribute: Pilot.name\n    type: text eighty", "5:11", "is no type", "text 80"),
                new Fault("add attribute: Pilot.name\n    type: decimal 2 4", "5:11", "4 of 2 digits"),
                new Fault(
                        "add attribute: Pilot.name\n    type: text 80\n    required: yes",
                        "6:15",
                        "true or false",
                        "yes"),
                new Fault("add attribute: Pilot.name\n    typ: text 80", "4:5", "has no 'type'"),
                new Fault(
                        "add attribute: Pilot.name\n    type: text 80\n    requird: true",
                        "6:5",
                        "knows no 'requird'",
                        "'required'"),
                new Fault(
                        "add attribute: Pilot.name\n    type: text 80\n    fill: { value: NO }",
                        "6:11",
                        "must have a value",
                        "backfill"),
                new Fault(
                        "add attribute: Pilot.name\n    type: text 80\n    required: true\n    fill: { worth: NO }",
                        "7:13",
                        "knows no 'worth'",
                        "value"),
                new Fault(
                        "change attribute: Pilot.phone\n    type: { from: text 30, to: text 40 }",
                        "4:5",
                        "text 20",
                        "not text 30"),
                new Fault("change attribute: Pilot.phone\n    type: text 40", "5:11", "from", "to"),
                new Fault(
                        "change attribute: Pilot.phone\n    type: { from: text 20, to: text 20 }",
                        "4:23",
                        "changes nothing"),
                new Fault("change attribute: Seal.pilot\n    required: { from: true, to: false }", "4:23", "a link"),
                new Fault("rename attribute: Pilot.fone\n    to: mobile", "4:23", "no 'fone'", "'phone'"),
                new Fault("rename attribute: Pilot.phone", "4:23", "'to'"),
                new Fault("rename attribute: Pilot.phone\n    to: badge", "4:5", "has 'badge' here already"),
                new Fault("drop attribute: Pilot.phone", "4:21", "values: lost"),
                new Fault("drop attribute: Pilot.badge\n    values: lost", "4:5", "pilot_badge_unique", "drop"),
                new Fault("drop attribute: Pilot.id\n    values: lost", "4:5", "belongs to the key"),
                new Fault("drop entity: Pilot\n    rows: lost", "4:5", "Seal.pilot leads to Pilot"),
                new Fault("add link: Pilot.seal\n    to: Sel", "5:9", "no 'Sel'", "'Seal'"),
                new Fault(
                        "add link: Pilot.seal\n    to: Seal\n    required: true\n    on delete: set null",
                        "7:16",
                        "cannot become empty"),
                new Fault(
                        "add link: Pilot.seal\n    to: Seal\n    on delete: ignore",
                        "6:16",
                        "restrict, set null, cascade"),
                new Fault("add unique: Pilot.[badge, nmae]", "4:17", "no 'nmae'"),
                new Fault("drop unique: Pilot.[phone]", "4:5", "no unique [phone]", "[badge]"),
                new Fault("add check: Pilot\n    that: { abov: [phone, 0] }", "5:13", "no condition 'abov'", "'above'"),
                new Fault("add check: Pilot\n    that: { is: [fone, \"1\"] }", "5:18", "no 'fone'", "'phone'"),
                new Fault("add check: Pilot\n    that: { is: [phone] }", "5:17", "a list of two"),
                new Fault("create entity: Pilot\n    key: [id]\n    attributes: { id: long }", "4:5", "already"),
                new Fault("create entity: Dock\n    key: [nr]\n    attributes: { id: long }", "5:10", "key has 'nr'"),
                new Fault(
                        "create entity: Dock\n    key: [id]\n    keys: drawn\n    attributes: { id: long }",
                        "6:11",
                        "generated, assigned"),
                new Fault(
                        "create entity: Dock\n    key: [id]\n    attributes: { id: long, id: text 5 }", "6:29", "'id'"),
                new Fault("change key: Pilot\n    keys: { from: assigned, to: generated }", "4:5", "generated here"),
                new Fault("backfill: Pilot.phone\n    sql: { oracel: \"x\" }", "5:12", "no product 'oracel'"),
                new Fault("backfill: Pilot.phone\n    sql: { any: \"x\" }\n    portions: 0", "6:15", "at least 1"),
                new Fault("sql: tidy up", "4:5", "has no 'of'"),
                new Fault("create commit tokens: [a]", "4:27", "a single word"));
    }

    @ParameterizedTest
    @MethodSource("faults")
    void aStepIsRefusedWhereItIsWrong(Fault fault) throws IOException {
        String text = "bathra: 1\nafter: 2026-11-20-first\nsteps:\n  - " + fault.text() + "\n";
        write("2026-11-20-first", FIRST);
        write("2026-12-03-second", text);
        assertThatThrownBy(() -> SchemaChanges.of(folder).history()).isInstanceOfSatisfying(FaultyChange.class, e -> {
            assertThat(e.getMessage()).startsWith("2026-12-03-second:" + fault.place() + ": ");
            for (String words : fault.words()) {
                assertThat(e.getMessage()).contains(words);
            }
        });
    }

    /** Whole files, with what is to be told of them. */
    static Stream<List<String>> files() {
        return Stream.of(
                List.of("", "2026-12-03-second: ", "nothing in it"),
                List.of("bathra: 1\nsteps:\n\t- add: x\n", "2026-12-03-second:3:1: ", "a tab"),
                List.of("bathra: 1\nafter: x\nsteps:\n  - a: [b\n", "2026-12-03-second:", "no YAML"),
                List.of("bathra: 2\nsteps:\n  - a: b\n", "2026-12-03-second:1:9: ", "this release reads 1"),
                List.of("steps:\n  - a: b\n", "2026-12-03-second:1:1: ", "no 'bathra'"),
                List.of("bathra: 1\nsteps: []\n", "2026-12-03-second:2:8: ", "at least one step"),
                List.of("bathra: 1\nsteps:\n", "2026-12-03-second:2:7: ", "something is missing here"),
                List.of("bathra: 1\nbathra: 1\nsteps:\n  - a: b\n", "2026-12-03-second:2:1: ", "twice"),
                List.of("bathra: 1\nstep:\n  - a: b\n", "2026-12-03-second:1:1: ", "no 'steps'"),
                List.of("bathra: 1\nsteps:\n  - a: b\n---\nbathra: 1\n", "2026-12-03-second:5:1: ", "second document"),
                List.of("bathra: 1\nsteps:\n  - a: &x b\n", "2026-12-03-second:3:8: ", "anchors"),
                List.of("bathra: 1\nsteps:\n  - a: !!int 4\n", "2026-12-03-second:3:8: ", "tags"),
                List.of(
                        "bathra: 1\nafter: 2026-11-20-frist\nsteps:\n  - a: b\n",
                        "2026-12-03-second:2:8: ",
                        "did you mean '2026-11-20-first'"),
                List.of("bathra: 1\nsteps:\n  - a: b\n", "2026-12-03-second: ", "neither does 2026-11-20-first"));
    }

    @ParameterizedTest
    @MethodSource("files")
    void aFileIsRefusedWhereItIsWrong(List<String> file) throws IOException {
        write("2026-11-20-first", FIRST);
        write("2026-12-03-second", file.get(0));
        assertThatThrownBy(() -> SchemaChanges.of(folder).history())
                .isInstanceOf(FaultyChange.class)
                .hasMessageStartingWith(file.get(1))
                .hasMessageContaining(file.get(2));
    }

    @Test
    void twoFilesAfterTheSameOneAreToldWithTheCure() throws IOException {
        write("2026-11-20-first", FIRST);
        write(
                "2026-12-03-a",
                "bathra: 1\nafter: 2026-11-20-first\nsteps:\n  - add attribute: Pilot.a\n    type: text\n");
        write(
                "2026-12-04-b",
                "bathra: 1\nafter: 2026-11-20-first\nsteps:\n  - add attribute: Seal.b\n    type: text\n");
        assertThatThrownBy(() -> SchemaChanges.of(folder).history())
                .hasMessageStartingWith("2026-12-04-b:2:8: ")
                .hasMessageContaining("2026-12-03-a")
                .hasMessageContaining("bathra change reorder 2026-12-04-b");
        assertThat(SchemaChanges.of(folder).reorder("2026-12-04-b")).isEqualTo("2026-12-03-a");
        assertThat(SchemaChanges.of(folder).history().changes())
                .extracting(Object::toString)
                .containsExactly("2026-11-20-first", "2026-12-03-a", "2026-12-04-b");
        assertThat(Files.readString(folder.resolve("2026-12-04-b.yaml")))
                .isEqualTo("bathra: 1\nafter: 2026-12-03-a\nsteps:\n  - add attribute: Seal.b\n    type: text\n");
    }

    @Test
    void filesThatTouchTheSameAreNotPutInOrder() throws IOException {
        write("2026-11-20-first", FIRST);
        String step =
                "bathra: 1\nafter: 2026-11-20-first\nsteps:\n  - change attribute: Pilot.phone\n    type: { from: text 20, to: text %d }\n";
        write("2026-12-03-a", step.formatted(30));
        write("2026-12-04-b", step.formatted(40));
        assertThatThrownBy(() -> SchemaChanges.of(folder).reorder("2026-12-04-b"))
                .hasMessageContaining("both touch Pilot.phone")
                .hasMessageContaining("draft it again");
    }

    @Test
    void wordsStayTexts() throws IOException {
        write("2026-11-20-first", FIRST);
        write("2026-12-03-second", """
                bathra: 1
                after: 2026-11-20-first
                steps:
                  - add attribute: Pilot.country
                    type: text 4
                    required: true
                    fill: { value: NO }
                  - add attribute: Pilot.plate
                    type: text 4
                    required: true
                    fill: { value: "0042" }
                """);
        String shown = SchemaChanges.of(folder)
                .history()
                .show("2026-12-03-second", io.bathra.DatabaseProduct.H2, null)
                .toString();
        assertThat(shown).contains("default 'NO' not null").contains("default '0042' not null");
    }

    private void write(String name, String text) throws IOException {
        Files.writeString(folder.resolve(name + ".yaml"), text);
    }
}
