package io.bathra.cli;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.cli.session.Fleet;
import io.bathra.testing.OtherProcess;
import io.bathra.testing.TestDatabase;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Entries from files and pipes: what comes of them, and what is said of them. */
class TryTest {
    private static final int ENTRIES = Boolean.getBoolean("bathra.long") ? 1_000 : 80;

    @TempDir
    private Path folder;

    private final Shell shell = new Shell();

    private int run(String... lines) {
        return run(List.of(), lines);
    }

    private int run(List<String> options, String... lines) {
        List<Object> args = new ArrayList<>(List.of("try", "--run", file("entries.txt", String.join("\n", lines))));
        args.addAll(options);
        return shell.bathra(args.toArray());
    }

    private Path file(String name, String text) {
        try {
            return Files.writeString(folder.resolve(name), text);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static List<String> fleet(String url) {
        return List.of("--model", Fleet.class.getName() + "#MODEL", "--url", url);
    }

    @Test
    void theHarbourIsThereWithItsSeason() {
        assertThat(run("work.from(Vessel.class).count()", "work.from(PortCall.class).limit(2).list()"))
                .as(shell.err())
                .isZero();
        assertThat(shell.out())
                .contains("> work.from(Vessel.class).count()\n60\n1 statement, 1 row, ")
                .contains("id     number  eta               etd               status    remark")
                .contains(
                        " 1  2026-0001  2026-04-01T20:10  2026-04-02T09:30  DEPARTED  Tug needed\\nif wind > 6 Bft     #41");
        assertThat(shell.err()).isEmpty();
    }

    @Test
    void whatComesThroughAPipeIsExecuted() {
        InputStream before = System.in;
        System.setIn(new ByteArrayInputStream("1 + 1\n:rows 3\n".getBytes(StandardCharsets.UTF_8)));
        try {
            assertThat(shell.bathra("try")).isZero();
        } finally {
            System.setIn(before);
        }
        assertThat(shell.out()).contains("> 1 + 1\n2\n", "> :rows 3\n3 rows of a list are shown\n");
    }

    @Test
    void resultsAreShownInTheirForms() {
        assertThat(run(
                        "new Object[] {1, \"two\", null}",
                        "record Pair(int left, String right) {}",
                        "List.of(new Pair(1, \"日本語\"), new Pair(22, \"plain\"))",
                        "Map.of(\"key\", List.of(1, 2, 3, 4, 5, 6, 7))",
                        "Optional.of(work.require(Vessel.class, 3L))",
                        "Optional.empty()",
                        "Stream.iterate(1, n -> n + 1)",
                        "IntStream.range(0, 1_000).boxed().toList()",
                        "\"\\u001b[31mred\\u202e\\n\"",
                        "work.from(Vessel.class).where(the(Vessel::built).above(2020))",
                        "work.sql(\"select id, name from vessel where id = 1\").list()",
                        "var vessel = work.require(Vessel.class, 3L)",
                        "vessel.calls()",
                        "vessel.operator()",
                        "List.of()",
                        "new Vessel(\"1234567\", \"New\")",
                        "work.plan()"))
                .as(shell.err() + shell.out())
                .isZero();
        assertThat(shell.out())
                .contains("\n1\ntwo\nnull\n")
                .contains("left  right\n   1  日本語\n  22  plain\n")
                .contains("key  [1, 2, 3, 4, 5, … 2 more]")
                .contains("Vessel 3\n  id                        3\n  imo                       9112131\n")
                .contains("\nempty\n")
                .contains("\n20\n… and more\n")
                .contains("\n19\n… 980 more\n")
                .contains("\"\\u001b[31mred\\u202e\\n\"")
                .contains("from vessel t where t.built > ?\nwith [2020]\nnot executed: .list()")
                .contains("id  name\n 1  Stellasang")
                .contains("vessel =\nVessel 3")
                .contains("calls                     (not read)")
                .contains("not read: .asList() reads it, .size() counts")
                .contains("\nnone\n")
                .contains("Vessel (new)")
                .doesNotContain("\u001b");
    }

    @Test
    void objectsAreShownWithoutAnyMethodOfTheirsBeingCalled() {
        assertThat(run(
                        fleet("jdbc:h2:mem:shown"),
                        "store.schema().createMissing()",
                        "new Tug(\"grim\")",
                        "List.of(new Tug(\"a\"), new Tug(\"b\"))",
                        "class Own { int n = 3; public String toString() { throw new Error(\"called\"); } }",
                        "new Own()"))
                .as(shell.err() + shell.out())
                .isZero();
        assertThat(shell.out())
                .contains("Tug (new)", "id  name\n-   a\n-   b", "Own(n=3)")
                .doesNotContain("called\n");
    }

    @Test
    void everyCommandSaysWhatItShows() throws IOException {
        Path kept = folder.resolve("kept.txt");
        Path page = folder.resolve("page.html");
        Path more = file("more.txt", "var two = 2\n:rows 7\n");
        assertThat(run(
                        ":help",
                        ":help plan",
                        ":model",
                        ":model portcall",
                        "for (var call : work.from(PortCall.class).limit(5).list()) {",
                        "    work.sql(\"select name from vessel where id = :id\").with(\"id\", call.vessel().key()).one();",
                        "}",
                        ":again",
                        ":done",
                        ":time",
                        ":write",
                        "var vessel = work.require(Vessel.class, 1L);",
                        "vessel.rename(\"Nord\")",
                        ":pending",
                        ":plan",
                        ":commit",
                        "vessel.rename(\"South\")",
                        ":undo",
                        "vessel.name()",
                        ":sql select count(*) as n from vessel where name = 'Nord'",
                        ":sql update vessel set name = 'East' where id = 1",
                        ":commit",
                        ":read",
                        ":run " + more,
                        "two + 1",
                        ":why",
                        ":done 3",
                        ":page " + page,
                        ":keep " + kept,
                        ":quit",
                        "nobody gets here"))
                .as(shell.err() + shell.out())
                .isZero();
        assertThat(shell.out())
                .contains(":keep FILE ", "writes the entries so far to a file")
                .contains(":plan  the steps that would store it, in order\nNothing is executed.")
                .contains("PortCall   port_call  id         8  vessel, berth, movements, pilots")
                .contains("> :model portcall\nPortCall in port_call")
                .contains("5 times, 5 rows")
                .containsPattern("statement +sql: select name from vessel where id = \\? +\\[1 rows")
                .containsPattern("\\d+ ms: \\d+ ms in the database for 6 statements, \\d+ ms to compile")
                .contains("> :pending\nVessel 1.name: Stellasang -> Nord\n")
                .contains("#  operation  table   rows  columns  why here\n1  update     vessel     1  name")
                .contains("Vessel         0        1        0")
                .contains("as it was at the latest commit", "\n\"Nord\"\n", "\nn\n1\n", "1 row\n")
                .contains("> :read\nReading only, until :write.")
                .contains("> var two = 2\ntwo = 2\n", "7 rows of a list are shown", "> two + 1\n3\n")
                .contains("nothing has failed", "written to " + page)
                .contains("entries written to " + kept)
                .doesNotContain("nobody");
        assertThat(page).content().contains("A session with harbour", "update vessel");
        assertThat(kept)
                .content()
                .contains(":write\nvar vessel", "\n:commit\n", "}\n")
                .doesNotContain(":plan", ":help");
        assertThat(run(Files.readString(kept).split("\n"))).as(shell.err()).isZero();
    }

    @Test
    void whatFailsEndsAScriptAndIsSaidInALineOrTwo() {
        assertThat(run("var one = 1", "", "vesel.name()")).isEqualTo(1);
        assertThat(shell.out()).endsWith("there is no variable vesel\n  vesel.name()\n  ^\n");
        assertThat(shell.err()).contains("stopped at line 3");

        assertThat(run("work.require(Vessel.class, 99L)")).isEqualTo(1);
        assertThat(shell.out())
                .contains("NoSuchRowException: Vessel 99 is not there; use find(...)")
                .doesNotContain("\tat");
        assertThat(run("if (true) {", "  work.close();")).isEqualTo(2);
        assertThat(shell.err()).contains("the entry that begins at line 1 has no end");

        assertThat(run(":moddel")).isEqualTo(1);
        assertThat(shell.out()).contains("there is no command :moddel; do you mean :model?");
        assertThat(run(":p")).isEqualTo(1);
        assertThat(shell.out()).contains("do you mean :pending or :plan or :page?");
        assertThat(run("var work = 3")).isEqualTo(1);
        assertThat(shell.out()).contains("work is given by the session; take another name");
        assertThat(run("work = null", "work.from(Vessel.class).count()")).isZero();
        assertThat(shell.out()).contains("work and store are the session's, and stay so", "\n60\n");
        assertThat(run("$1")).isEqualTo(1);
        assertThat(shell.out()).contains("a result is not kept unless it gets a name; say var x = ...");
        assertThat(run("int x = \"a\"")).isEqualTo(1);
        assertThat(shell.out()).contains("incompatible types: String cannot be converted to int");
        assertThat(run(":commit")).isEqualTo(1);
        assertThat(shell.out()).contains("this session only reads, so there is nothing for :commit; say :write first");
        assertThat(run(":keep " + folder.resolve("entries.txt"))).isEqualTo(1);
        assertThat(shell.out()).contains("entries.txt is there already; name another file");
        assertThat(run(":run " + folder.resolve("none"))).isEqualTo(1);
        assertThat(shell.out()).contains("there is no file");
        assertThat(shell.bathra("try", "--run", folder.resolve("none"))).isEqualTo(1);
        assertThat(shell.err()).contains("there is no file");
    }

    @Test
    void whatIsNotPublicIsSaidToBe() {
        List<String> options = fleet("jdbc:h2:mem:hidden");
        assertThat(run(options, "new Tug(\"x\").hidden()")).isEqualTo(1);
        assertThat(shell.out())
                .contains("hidden() of Fleet.Tug is for its own package only, and entries are outside of it");
        assertThat(run(options, "the(Tug::hidden)")).isEqualTo(1);
        assertThat(shell.out()).contains("hidden() of Tug is for its own package only");
        assertThat(run(options, "new Secret()")).isEqualTo(1);
        assertThat(shell.out()).contains("Secret is not public, so that entries cannot name it");
    }

    @Test
    void pendingChangesAreNotLostWithoutAWord() {
        assertThat(run(":write", "work.require(Vessel.class, 1L).rename(\"X\")", ":read"))
                .isEqualTo(1);
        assertThat(shell.out()).contains("1 pending change would be lost; :commit or :undo first");
        assertThat(run(":write", "work.require(Vessel.class, 1L).rename(\"X\")"))
                .isEqualTo(3);
        assertThat(shell.err()).contains("not stored: 1 pending change; :commit stores");
        assertThat(run("work.require(Vessel.class, 1L).rename(\"X\")", "work.add(new Operator(\"ABC\", \"A\"))"))
                .isEqualTo(1);
        assertThat(shell.out())
                .contains("not stored, since this session only reads: Vessel 1.name: Stellasang -> X; say :write first")
                .contains("a new object is added, but this unit of work is read-only")
                .contains(":write begins a unit of work that stores");
        assertThat(run("var v = work.require(Vessel.class, 1L)", ":write")).isZero();
        assertThat(shell.out()).contains("v (Vessel 1) was read before, so nothing of it is stored; read again");
    }

    @ParameterizedTest
    @EnumSource
    void whatIsCommittedIsStoredAndNobodyWaitsForAnIdleSession(TestDatabase database) {
        List<String> options = fleet(database.sharedUrl());
        assertThat(run(
                        options,
                        "store.schema().createMissing()",
                        ":write",
                        "var tug = new Tug(\"Grim\")",
                        "work.add(tug)",
                        ":commit",
                        "tug.rename(\"Merry\")",
                        ":undo",
                        "tug.name()",
                        ":read",
                        "work.from(Tug.class).list()",
                        "store.run(own -> own.require(Tug.class, tug.id()).rename(\"Jolly\"))",
                        "work.from(Tug.class).list()",
                        ":write",
                        "work.from(Tug.class).list()",
                        "store.run(own -> own.require(Tug.class, tug.id()).rename(\"Blithe\"))",
                        "store.sql(\"alter table tug add bollards integer\").execute()",
                        ":commit",
                        ":undo",
                        "work.from(Tug.class).one()"))
                .as(shell.err() + shell.out())
                .isZero();
        assertThat(shell.out())
                .contains(
                        "\n\"Grim\"\n",
                        "id  name\n 1  Grim\n",
                        "id  name\n 1  Jolly\n",
                        "Tug 1\n  id    1\n  name  Blithe");
    }

    /** Statements are no way to tell what writes: the unit of work knows. */
    @ParameterizedTest
    @EnumSource
    void whateverWasWrittenStaysUntilTheCommit(TestDatabase database) {
        List<String> options = fleet(database.sharedUrl());
        assertThat(run(
                        options,
                        "store.schema().createMissing()",
                        ":write",
                        "work.add(new Tug(\"Grim\"))",
                        ":commit",
                        "var tug = work.from(Tug.class).one()",
                        "tug.rename(\"Merry\")",
                        "work.bulk(Tug.class).upsert(List.of(tug), on(Tug::id))",
                        "tug.name()",
                        ":commit",
                        "store.sql(\"select name from tug\").as(String.class).list()",
                        "tug.rename(\"Jolly\")",
                        "work.flush()",
                        "1 + 1",
                        ":commit",
                        "store.sql(\"select name from tug\").as(String.class).list()"))
                .as(shell.err() + shell.out())
                .isZero();
        assertThat(shell.out()).contains("\nMerry\n", "\nJolly\n");
        if (database == TestDatabase.POSTGRESQL) {
            assertThat(run(
                            options,
                            ":write",
                            ":sql with made as (insert into tug (id, name) values (99, 'hid') returning id) select id"
                                    + " from made",
                            ":commit",
                            ":read",
                            "work.require(Tug.class, 99L).name()"))
                    .as(shell.err() + shell.out())
                    .isZero();
            assertThat(shell.out()).contains("\"hid\"");
        }
        assertThat(run(options, ":write", "work.add(new Tug(\"Lost\"))", "work.flush()", ":read"))
                .isEqualTo(1);
        assertThat(shell.out()).contains("written and not committed would be lost; :commit or :undo first");
        assertThat(run(options, ":write", "work.add(new Tug(\"Lost\"))", "work.flush()"))
                .isEqualTo(3);
        assertThat(shell.err()).contains("not stored: what was, or may have been, written and not committed");
    }

    @Test
    void aUnitThatIsOverIsReplaced() {
        assertThat(run("work.close()", "work.from(Vessel.class).count()"))
                .as(shell.out())
                .isZero();
        assertThat(shell.out()).contains("the unit of work is over; work is a new one", "\n60\n");
    }

    /**
     * In a process of its own, where nothing of other tests is collected in between, and behind what the first entries
     * leave in the compiler's caches. A result that is held is a megabyte.
     */
    @Test
    void manyEntriesTakeLittleRoom() throws Exception {
        List<String> lines = new ArrayList<>();
        lines.add("""
                long used() {
                    for (int i = 0; i < 5; i++) System.gc();
                    return java.lang.management.ManagementFactory.getMemoryPoolMXBeans().stream()
                            .filter(pool -> !pool.getName().startsWith("Code")) // it grows, whatever is entered
                            .mapToLong(pool -> pool.getUsage().getUsed())
                            .sum();
                }""");
        String large = "new Object[] {work.from(PortCall.class).where(the(PortCall::id).above(7L)).list(),"
                + " new byte[1_000_000]}";
        lines.addAll(Collections.nCopies(ENTRIES / 2, large));
        lines.add("long before = used()");
        lines.addAll(Collections.nCopies(ENTRIES, large));
        lines.add("\"each takes \" + (used() - before) / " + ENTRIES + " / 1024 + \" KB\"");
        String entries = file("many.txt", String.join("\n", lines)).toString();
        String told = OtherProcess.run(Bathra.class, "try", "--run", entries).output().stream()
                .filter(line -> line.startsWith("\"each takes "))
                .findFirst()
                .orElseThrow();
        System.out.println("of " + ENTRIES + " entries " + told);
        assertThat(Long.parseLong(told.split(" ")[2])).isLessThan(300);
    }
}
