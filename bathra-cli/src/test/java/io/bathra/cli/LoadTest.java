package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.bathra.jdbc.UrlDataSource;
import io.bathra.testing.TestDatabase;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Files loaded by the tool: what is taken, what is rejected and why, and what is said of it. */
class LoadTest {
    private static final String HEADER = "serial,kind,length_feet,gross_kilos,operator.code\n";

    @TempDir
    private Path folder;

    private final Shell shell = new Shell();

    private int load(String url, String entity, Path file, Object... more) {
        Object[] args = new Object[5 + more.length];
        List.of("load", entity, file, "--url", url).toArray(args);
        System.arraycopy(more, 0, args, 5, more.length);
        return shell.bathra(args);
    }

    private String harbour(TestDatabase where) {
        String url = where.sharedUrl();
        assertThat(shell.bathra("schema", "create", "--url", url))
                .as(shell.err())
                .isZero();
        return url;
    }

    private String harbourWithOperators() {
        String url = harbour(TestDatabase.H2);
        Path operators = write("ops.csv", "code,name,country\nNLR,Nordlicht Reederei,DE\n");
        assertThat(load(url, "Operator", operators)).as(shell.err()).isZero();
        return url;
    }

    private Path write(String name, String text) {
        try {
            return Files.writeString(folder.resolve(name), text);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private long containers(String url) throws IOException {
        assertThat(load(
                        url,
                        "Container",
                        write("none.csv", HEADER + "BATU0000001,DRY,20,5000,\n"),
                        "--mode",
                        "upsert",
                        "--on",
                        "serial",
                        "--dry-run",
                        "--json"))
                .as(shell.err())
                .isZero();
        return json().get("inserted").asLong();
    }

    private JsonNode json() throws IOException {
        return new ObjectMapper().readTree(shell.out());
    }

    @ParameterizedTest
    @EnumSource(TestDatabase.class)
    void theWholeHarbourIsLoadedAndLoadedAgain(TestDatabase where) throws IOException {
        String url = harbour(where);
        Path files = folder.resolve("files");
        assertThat(shell.bathra("sample", files, "--containers", 3_000, "--bad", 10))
                .isZero();
        assertThat(shell.out()).contains("containers.csv: 3,000 lines");
        for (String one : List.of("Operator operators", "Vessel vessels", "berth berths", "PILOT pilots")) {
            assertThat(load(url, one.split(" ")[0], files.resolve(one.split(" ")[1] + ".csv")))
                    .as(one + shell.err())
                    .isZero();
        }
        Path calls = files.resolve("port_calls.csv");
        assertThat(load(url, "PortCall", calls)).as(shell.err()).isZero();
        assertThat(shell.out())
                .contains("port_calls.csv: 400 lines into PortCall, on ")
                .containsPattern("inserted +400")
                .containsPattern("pairs added +910");
        assertThat(load(url, "PortCall", calls, "--mode", "upsert", "--on", "number", "--json"))
                .isZero();
        assertThat(List.of(
                        json().get("unchanged").asInt(),
                        json().get("pairsAdded").asInt(),
                        json().get("pairsSkipped").asInt()))
                .containsExactly(400, 0, 910);

        Path containers = files.resolve("containers.csv");
        Path page = folder.resolve("load.html");
        assertThat(load(url, "Container", containers, "--page", page)).isEqualTo(3);
        assertThat(page).content().contains("Container loaded from ", "insert into container");
        Path rejected = files.resolve("containers.rejected.csv");
        assertThat(shell.out()).containsPattern("inserted +2,990").contains("10  see " + rejected);
        assertThat(Files.readAllLines(rejected))
                .hasSize(11)
                .startsWith("\"#line\",\"#column\",\"#reason\",serial,kind,length_feet,gross_kilos,operator.code")
                .anySatisfy(line -> assertThat(line)
                        .startsWith("301,kind,\"'CRATE' is none of DRY, REEFER, TANK, OPEN_TOP\",BATU0000299,CRATE,"))
                .anySatisfy(
                        line -> assertThat(line).startsWith("901,gross_kilos,'-1' breaks the check grossKilos > 0;"))
                .anySatisfy(line -> assertThat(line)
                        .startsWith("1501,serial,\"'BATU0000000' must be unique, but another row has it"));

        String mended = Files.readString(rejected)
                .replace(",CRATE,", ",TANK,")
                .replace(",forty,", ",40,")
                .replace(",-1,", ",900,")
                .replace(",???", ",");
        Files.writeString(rejected, mended.replaceFirst("(?m)^.*,BATU0000000,.*\n", ""));
        assertThat(load(url, "Container", rejected, "--mode", "missing", "--json"))
                .as(shell.err())
                .isZero();
        assertThat(List.of(
                        json().get("lines").asInt(),
                        json().get("inserted").asInt(),
                        json().get("skipped").asInt()))
                .containsExactly(9, 8, 1);
        assertThat(load(url, "Container", containers, "--mode", "missing")).isEqualTo(3);
        assertThat(shell.out())
                .containsPattern("inserted +0\n")
                .containsPattern("skipped +2,99[24]"); // bad rows that are there may be found there first
        assertThat(shell.bathra("schema", "verify", "--url", url))
                .as(shell.out())
                .isZero();
    }

    @Test
    void allOrNothingAndDryRunsStoreNothing() throws IOException {
        String url = harbourWithOperators();
        Path file = write(
                "c.csv",
                HEADER
                        + "BATU0000001,DRY,20,5000,NLR\nBATU0000002,DRY,20,5000\n\n\"BATU\n3\",DRY,20,5000,\nBATU4,CRATE,x,1,\n");
        assertThat(load(url, "Container", file, "--max-rejected", 0)).isEqualTo(1);
        assertThat(shell.err())
                .contains("2 lines of c.csv were rejected, but at most 0 may be; nothing was stored; see ");
        assertThat(Files.readAllLines(folder.resolve("c.rejected.csv")))
                .as("a line is told by where it begins")
                .anySatisfy(line -> assertThat(line)
                        .isEqualTo("3,*,\"has 4 values, but the header has 5\",BATU0000002,DRY,20,5000,"))
                .anySatisfy(line -> assertThat(line)
                        .startsWith(
                                "7,kind; length_feet,\"'CRATE' is none of DRY, REEFER, TANK, OPEN_TOP; 'x' is not a"));
        assertThat(containers(url)).as("one that would be new").isOne();
        assertThat(load(url, "Container", file, "--rejects", file)).isEqualTo(1);
        assertThat(shell.err()).contains("rejected lines would be written over " + file);
        assertThat(load(url, "Container", file, "--dry-run")).isEqualTo(3);
        assertThat(shell.out()).contains("c.csv: 4 lines tried out, and taken back, into Container");
        assertThat(containers(url)).isOne();
        assertThat(load(url, "Container", file)).isEqualTo(3);
        assertThat(containers(url)).as("is there now").isZero();
    }

    @Test
    void whoInterruptsFindsNothingHalfDone() throws Exception {
        String url = harbour(TestDatabase.SQLITE);
        Path files = folder.resolve("files");
        shell.bathra("sample", files, "--containers", 400_000, "--bad", 4_000);
        load(url, "Operator", files.resolve("operators.csv"));
        Path containers = files.resolve("containers.csv");
        Process process = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-cp",
                        System.getProperty("java.class.path"),
                        Bathra.class.getName(),
                        "load",
                        "Container",
                        containers.toString(),
                        "--url",
                        url)
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("said.txt").toFile())
                .start();
        Path part = files.resolve("containers.rejected.csv." + process.pid() + ".part");
        while (process.isAlive() && !Files.exists(part)) {
            Thread.sleep(20);
        }
        process.destroy(); // what Ctrl-C does, too
        int code = process.waitFor();
        String said = Files.readString(folder.resolve("said.txt"));
        assertThat(code).as(said).isGreaterThan(128);
        assertThat(said).contains("bathra: interrupted; nothing was stored");
        assertThat(files).isDirectoryNotContaining("glob:**rejected**");
        assertThat(TestDatabase.count(new UrlDataSource(url, null, null), "container"))
                .isZero();
    }

    @Test
    void columnsAreMatchedMappedOrSkipped() {
        String url = harbourWithOperators();
        Path vessels = write(
                "v.csv",
                "\uFEFFIMO no;Name;Call sign;lengthMetres;beam_metres;operator_code;comment\n"
                        + "9074729;\"Nord;licht\";DABC;120.5;18;NLR;old\n");
        assertThat(load(url, "Vessel", vessels, "--separator", ";")).isEqualTo(1);
        assertThat(shell.err())
                .contains(
                        "the column 'IMO no' means nothing to Vessel; it has id, imo, name, callSign, dimensions.lengthMetres")
                .contains("operator.code")
                .contains("--map 'IMO no=...', or --skip it");
        assertThat(load(
                        url,
                        "Vessel",
                        vessels,
                        "--separator",
                        ";",
                        "--map",
                        "IMO no=imo",
                        "--map",
                        "lengthMetres=dimensions.lengthMetres",
                        "--skip",
                        "comment"))
                .as(shell.err())
                .isZero();
        assertThat(load(url, "Vessel", vessels, "--separator", ";", "--map", "imo=IMO no"))
                .isEqualTo(1);
        assertThat(shell.err()).contains("--map names the column 'imo', but the file has [IMO no, Name");
        assertThat(load(url, "Vessel", write("p.csv", "imo,name,certificates\n1,A,x\n")))
                .isEqualTo(1);
        assertThat(shell.err()).contains("its parts are stored with an entity in a unit of work");
        assertThat(load(url, "PortCall", write("l.csv", "eta,status,vessel.imo,pilots.badge\n,,,\n")))
                .isEqualTo(1);
        assertThat(shell.err())
                .contains("the lists in pilots need a column that tells the PortCall by itself: one of [number, id]");
    }

    @Test
    void pairsWithUnknownEndsAreRejectedAndTheirRowsStay() {
        String url = harbourWithOperators();
        load(url, "Vessel", write("v.csv", "imo,name\n9074729,Nordlicht\n"));
        load(url, "Pilot", write("p.csv", "badge,name,grade\nP01,Kari,FIRST\n"));
        Path calls = write(
                "calls.csv",
                "number,eta,status,vessel.imo,pilots.badge\n2026-0001,2026-04-01T06:30,EXPECTED,9074729,P01 | P77\n");
        assertThat(load(url, "PortCall", calls, "--list-separator", "|")).isEqualTo(3);
        assertThat(shell.out())
                .containsPattern("inserted +1")
                .containsPattern("pairs added +1")
                .containsPattern("rejected +1 ");
        assertThat(folder.resolve("calls.rejected.csv")).content().contains("2,pilots.badge,\"'P77' names no Pilot");
    }

    @Test
    void aFileThatIsNoneIsRefused() throws IOException {
        String url = harbourWithOperators();
        assertThat(load(url, "Container", folder.resolve("nowhere.csv"))).isEqualTo(1);
        assertThat(shell.err()).contains("there is no file ").contains("nowhere.csv");
        assertThat(load(url, "Container", write("empty.csv", ""))).isEqualTo(1);
        assertThat(shell.err()).contains("empty.csv is empty; its first line has to name the columns");
        assertThat(load(url, "Container", write("twice.csv", "serial,serial\n")))
                .isEqualTo(1);
        assertThat(shell.err()).contains("twice.csv, line 1: the column 'serial' is there twice");
        Path quotes = write("quotes.csv", HEADER + "A,DRY,20,1,\n\"B\"x,DRY,20,1,\n");
        assertThat(load(url, "Container", quotes)).isEqualTo(1);
        assertThat(shell.err()).contains("quotes.csv, line 3 or soon after: cannot be read: ");
        Path latin = Files.write(
                folder.resolve("latin.csv"), (HEADER + "\u00c5,DRY,20,1,\n").getBytes(StandardCharsets.ISO_8859_1));
        assertThat(load(url, "Container", latin)).isEqualTo(1);
        assertThat(shell.err()).contains("is not in UTF-8; convert the file");
        assertThat(load(url, "Containr", quotes)).isEqualTo(1);
        assertThat(shell.err()).contains("the model 'harbour' has no entity 'Containr'; it has Operator, Vessel");
        assertThat(load(url, "Container", write("ok.csv", HEADER), "--mode", "upsert"))
                .isZero();
        assertThat(load(url, "Container", write("one.csv", HEADER + "A,DRY,20,1,\n"), "--mode", "upsert"))
                .isEqualTo(1);
        assertThat(shell.err()).contains("an upsert has to know what tells a row; say --on ATTRIBUTE");
        assertThat(shell.err().lines()).hasSize(1);
    }

    private static final String ONE_BAD = HEADER + "BATU0000009,DRY,20,5000,NLR\nBATU4,CRATE,x,1,\n";

    @Test
    void rejectedLinesTakeNoOthersPlace() throws IOException {
        String url = harbourWithOperators();
        Path file = write("r.csv", ONE_BAD);
        Path diary = write("diary.txt", "dear diary");
        Path link = Files.createSymbolicLink(folder.resolve("link.csv"), diary);
        for (Path place : List.of(link, folder, Path.of("/dev/null"))) {
            assertThat(load(url, "Container", file, "--overwrite", "--rejects", place))
                    .isEqualTo(1);
            assertThat(shell.err()).contains("rejected lines are not written to " + place + ", which is no file");
        }
        assertThat(load(url, "Container", file, "--rejects", diary)).isEqualTo(1);
        assertThat(shell.err())
                .contains("which holds something else; name another file by --rejects, or say --overwrite");
        assertThat(containers(url)).as("nothing was stored").isOne();
        assertThat(diary).hasContent("dear diary");
        assertThat(load(url, "Container", file, "--rejects", diary, "--overwrite"))
                .isEqualTo(3);
        assertThat(diary).content().startsWith("\"#line\",\"#column\",\"#reason\",serial");
        assertThat(load(url, "Container", file, "--rejects", diary, "--separator", ","))
                .isEqualTo(3);
        assertThat(Files.readAllLines(diary)).as("one of its own").hasSize(3);
        assertThat(folder).isDirectoryNotContaining("glob:**.part");
    }

    @Test
    void standardInputAndPipesAreReadOnce() throws Exception {
        String url = harbourWithOperators();
        Path rejects = folder.resolve("piped.csv");
        InputStream before = System.in;
        System.setIn(new ByteArrayInputStream(ONE_BAD.getBytes(StandardCharsets.UTF_8)));
        try {
            assertThat(load(url, "Container", Path.of("-"), "--rejects", rejects))
                    .isEqualTo(3);
        } finally {
            System.setIn(before);
        }
        assertThat(shell.out())
                .contains("standard input: 2 lines into Container")
                .containsPattern("inserted +1\n");
        assertThat(rejects).content().contains("3,kind");
        Path pipe = folder.resolve("pipe");
        assertThat(new ProcessBuilder("mkfifo", pipe.toString()).start().waitFor())
                .isZero();
        Process writer =
                new ProcessBuilder("sh", "-c", "cat '" + write("p.csv", ONE_BAD) + "' > '" + pipe + "'").start();
        assertThat(load(url, "Container", pipe, "--mode", "missing", "--rejects", rejects))
                .isEqualTo(3);
        assertThat(writer.waitFor()).isZero();
        assertThat(shell.out()).contains("pipe: 2 lines into Container").containsPattern("skipped +1\n");
    }

    @Test
    void aUrlThatNoDriverTakesIsToldFromADatabaseThatIsAway() {
        Path file = write("u.csv", ONE_BAD);
        assertThat(load("jdbc:oracle:thin:@somewhere", "Container", file)).isEqualTo(1);
        assertThat(shell.err())
                .contains("no driver takes jdbc:oracle:thin:@somewhere: Bathra knows URLs that begin with jdbc:h2:,"
                        + " jdbc:sqlite:, jdbc:postgresql:, jdbc:mariadb:")
                .doesNotContain("check that it runs");
    }
}
