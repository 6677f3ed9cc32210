package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.bathra.changes.SchemaChanges;
import io.bathra.examples.harbour.Harbour;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Change files drafted, shown, checked and put in order by the tool. */
class ChangeTest {
    private static final Path PAGE = Path.of("").toAbsolutePath().resolveSibling("docs/guide/evolve.md");
    private static final Pattern BLOCK = Pattern.compile("```(\\w+)\n(.*?)```", Pattern.DOTALL);
    private static final String DAY = "2026-12-03";
    private static final String TODAY = "io.bathra.examples.guide.Evolving$Today#MODEL";
    private static final String NEXT = "io.bathra.examples.guide.Evolving$Next#MODEL";

    @TempDir
    private Path folder;

    private final Shell shell = new Shell();

    /** Each command of the page, with what stands below it. */
    @Test
    void thePageGoesFromTheFirstFileToTheNextRelease() throws IOException {
        String model = "";
        boolean asked = false;
        int answers = 0;
        for (MatchResult block : BLOCK.matcher(Files.readString(PAGE)).results().toList()) {
            String text = block.group(2);
            if (block.group(1).equals("sh")) {
                for (String line : text.strip().split("\n")) {
                    model = line.startsWith("export BATHRA_MODEL=") ? line.substring(line.indexOf('=') + 1) : model;
                    if (line.startsWith("bathra ")) {
                        run(line, model);
                        asked = true;
                    }
                }
            } else if (answers > 0 && block.group(1).equals("text") && !asked && text.contains("pending")) {
                assertThat(shell.out()).contains("pending"); // a second line of the same answer
            } else if (asked && !block.group(1).equals("java")) {
                assertThat((shell.out() + shell.err()).replace(LocalDate.now().toString(), DAY))
                        .contains(text.strip());
                asked = false;
                answers++;
            }
        }
        assertThat(answers).isEqualTo(10);
    }

    private void run(String line, String model) {
        List<Object> words = new ArrayList<>();
        for (String word : line.substring("bathra ".length()).split(" ")) {
            words.add(word.replace(DAY, LocalDate.now().toString()));
        }
        words.add("--changes");
        words.add(folder);
        if (!words.contains("check")) {
            words.add("--model");
            words.add(model);
        }
        if (words.contains("apply") || words.contains("status")) {
            words.add("--url");
            words.add("jdbc:h2:" + folder.resolve("office"));
        }
        shell.bathra(words.toArray());
    }

    private void draft(String model, Object... more) {
        List<Object> words = new ArrayList<>(List.of("change", "draft", "--changes", folder, "--model", model));
        words.addAll(List.of(more));
        assertThat(shell.bathra(words.toArray())).as(shell.err()).isZero();
    }

    @Test
    void whatMayOnlyHaveAnotherNameIsSaidInTheFile() {
        draft(TODAY, "first");
        draft(NEXT, "next", "--fill", "Pilot.country={ term: { upper: badge } }", "--dry-run");
        assertThat(shell.out())
                .contains("# Pilot.phone goes and mobile comes; if it only has another name, draft with --renamed"
                        + " Pilot.phone=mobile")
                .contains("fill: { term: { upper: badge } }");
        assertThat(folder).isDirectoryNotContaining("glob:**next*");
    }

    @Test
    void inTwoStepsTwoFilesAreWrittenAndTheFirstIsSurvived() {
        draft(TODAY, "first");
        draft(NEXT, "next", "--in-two-steps", "--renamed", "Pilot.phone=mobile");
        assertThat(shell.err())
                .contains("-next.yaml")
                .contains("-next-narrowed.yaml")
                .contains("Pilot.country must have");
        String name = LocalDate.now() + "-next";
        assertThat(shell.bathra("change", "check", name, "--changes", folder)).isZero();
        assertThat(shell.err()).contains("the release before goes on working");
        assertThat(shell.bathra("change", "check", folder.resolve(name + "-narrowed.yaml"), "--changes", folder))
                .isEqualTo(3);
    }

    @Test
    void scriptsGetJson() throws IOException {
        draft(TODAY, "first");
        String name = LocalDate.now() + "-first";
        shell.bathra("change", "show", name, "--changes", folder, "--dialect", "SQLITE", "--json");
        JsonNode steps = new ObjectMapper().readTree(shell.out());
        assertThat(steps.get(0).get("statements").get(0).get("sql").asText()).startsWith("create table pilot");
        shell.bathra("change", "check", name, "--changes", folder, "--json");
        assertThat(new ObjectMapper().readTree(shell.out()).get(0).get("reads").asText())
                .isEqualTo("GOES_ON");
    }

    @Test
    void aDatabaseIsLedFromOneFileToTheNext() throws IOException {
        String url = "jdbc:sqlite:" + folder.resolve("office.db");
        draft(TODAY, "first");
        assertThat(database("status", url)).isEqualTo(3);
        assertThat(shell.out()).contains("-first").contains("pending");
        assertThat(database("apply", url, "--dry-run")).isZero();
        assertThat(shell.err()).contains("1 file would be applied on SQLite");
        assertThat(database("apply", url)).isZero();
        assertThat(shell.err()).contains("1 file applied on SQLite");
        assertThat(database("apply", url)).isZero();
        assertThat(shell.err()).contains("nothing to do: 1 file, which is applied, on SQLite");
        assertThat(database("status", url, "--json")).isZero();
        JsonNode applied = new ObjectMapper().readTree(shell.out()).get(0);
        assertThat(applied.get("state").asText()).isEqualTo("APPLIED");
        assertThat(applied.get("endedAt").asText()).endsWith("Z");
        assertThat(applied.get("millis").asLong()).isNotNegative();
        draft(NEXT, "next", "--fill", "Pilot.country=NO");
        assertThat(database("apply", url)).isEqualTo(1);
        assertThat(shell.err())
                .contains("would be lost by")
                .contains("drop attribute Pilot.phone")
                .contains("--losing");
        assertThat(database("apply", url, "--losing", LocalDate.now() + "-next"))
                .isZero();
        assertThat(database("status", url)).isZero();
        assertThat(shell.err()).contains("all applied: 2 files");
        assertThat(database("adopt", url)).isZero();
        assertThat(shell.err()).contains("nothing to do");
        assertThat(shell.bathra("schema", "create", "--url", url, "--model", NEXT))
                .isEqualTo(1);
        assertThat(shell.err()).contains("change files");
    }

    private int database(String what, String url, Object... more) {
        List<Object> words =
                new ArrayList<>(List.of("change", what, "--changes", folder, "--url", url, "--model", NEXT));
        words.addAll(List.of(more));
        return shell.bathra(words.toArray());
    }

    @Test
    void whatCannotBeIsRefusedWithTheCure() throws IOException {
        assertThat(shell.bathra("change")).isEqualTo(2);
        assertThat(shell.err()).contains("draft, show, check, reorder, apply");
        draft(TODAY, "first");
        for (String[] wrong : new String[][] {
            {"draft", "next", "--renamed", "Pilot.phone", "write Pilot.phone=mobile"},
            {"draft", "next", "--fill", "Pilot.country", "write Operator.country=NO"},
            {"draft", "next", "--fill", "Pilot.cuntry=NO", "no 'Pilot.cuntry' to fill"},
            {"draft", "next", "--renamed", "Pilot.fone=mobile", "did you mean 'phone'"},
            {"draft", "!?", "--dry-run", "--in-two-steps", "makes no name for a file"},
            {"show", "nothing", "--dialect", "H2", "there is no file 'nothing'"},
            {"reorder", "nothing", "--changes", folder.toString(), "there is no file 'nothing'"}
        }) {
            List<Object> words = new ArrayList<>(List.of("change"));
            words.addAll(List.of(wrong).subList(0, wrong.length - 1));
            if (!words.contains("--changes")) {
                words.addAll(List.of("--changes", folder));
            }
            if (!wrong[0].equals("reorder")) {
                words.addAll(List.of("--model", NEXT));
            }
            assertThat(shell.bathra(words.toArray())).as("%s", words).isEqualTo(1);
            assertThat(shell.err()).contains(wrong[wrong.length - 1]);
        }
        Files.writeString(folder.resolve("file"), "");
        assertThat(shell.bathra("change", "show", "x", "--changes", folder.resolve("file")))
                .isEqualTo(1);
        assertThat(shell.err()).contains("is no folder");
    }

    @Test
    void theHarboursFilesLeadFromItsFirstModelToTodays() {
        SchemaChanges changes = SchemaChanges.of(Harbour.class, "changes");
        assertThat(changes.history().changes()).hasSize(5);
        assertThat(changes.history().leadsTo(Harbour.MODEL)).isTrue();
    }
}
