package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.ApplyTerms;
import io.bathra.evolve.FileState;
import io.bathra.evolve.FileState.State;
import io.bathra.evolve.Written;
import io.bathra.schema.Layout;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import org.h2.tools.Server;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Whoever applies change files may be killed, or stopped for a while, at any moment; all is done in the end, and once. */
@OnEachDatabase
@Tag("exhaustive")
class ApplyFaultTest {
    private static final boolean LONG = Boolean.getBoolean("bathra.long");
    private static final int SOME = 2;

    private static final String FIRST = """
            bathra: 1
            steps:
              - create entity: Pilot
                key: [id]
                keys: generated
                attributes:
                  id: long
                  badge: text 10
                  phone: text 20
                  boots: integer
              - create entity: Seal
                key: [number]
                attributes:
                  number: integer
            """;

    private static final String SECOND = """
            bathra: 1
            after: 2026-11-20-first
            steps:
              - rename attribute: Pilot.phone
                to: mobile
              - add attribute: Pilot.country
                type: text 2
                required: true
                fill: { value: "NO" }
              - add attribute: Pilot.sign
                type: text 20
                required: true
                fill: { term: { upper: badge } }
              - change attribute: Pilot.badge
                type: { from: text 10, to: text 3 }
                required: { from: false, to: true }
              - add unique: Pilot.badge
              - create entity: Boat
                key: [id]
                keys: generated
                attributes:
                  id: long
                  name: { type: text 40, required: true }
              - add link: Pilot.boat
                to: Boat
                on delete: set null
              - add index: Pilot.[country, sign]
              - add check: Pilot
                that: { above: [boots, 0] }
              - rename entity: Pilot
                to: Guide
              - drop entity: Seal
                rows: lost
            """;

    private final TestDatabase database;

    @TempDir
    Path folder;

    private String url;
    private Server server;

    ApplyFaultTest(TestDatabase database) {
        this.database = database;
    }

    @AfterEach
    void stop() {
        if (server != null) {
            server.stop();
        }
    }

    @BeforeEach
    void write() throws IOException {
        Files.writeString(folder.resolve("2026-11-20-first.yaml"), FIRST);
    }

    /** A database that has had the first file, and has rows. */
    private void begin() throws IOException {
        begin(database.sharedUrl());
    }

    private void begin(String place) throws IOException {
        url = place;
        Files.deleteIfExists(folder.resolve("2026-12-03-second.yaml"));
        try (Store store = Store.open(ApplyChild.MODEL, url)) {
            SchemaChanges.of(store, folder).apply();
            for (int i = 1; i <= 3; i++) {
                store.sql("insert into pilot (badge, phone, boots) values ('p0" + i + "', '11" + i + "', " + i + ")")
                        .execute();
            }
        }
        Files.writeString(folder.resolve("2026-12-03-second.yaml"), SECOND);
    }

    private Process child(int at, String what) throws IOException {
        return new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-XX:TieredStopAtLevel=1",
                        "-XX:+UseSerialGC",
                        "-cp",
                        System.getProperty("surefire.test.class.path", System.getProperty("java.class.path")),
                        ApplyChild.class.getName(),
                        url,
                        folder.toString(),
                        String.valueOf(at),
                        what)
                .redirectErrorStream(true)
                .start();
    }

    private static String output(Process child, int expected) throws IOException, InterruptedException {
        String output = new String(child.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(child.waitFor()).as(output).isEqualTo(expected);
        return output;
    }

    private void isDone() throws IOException {
        try (Store store = Store.open(ApplyChild.MODEL, url)) {
            SchemaChanges changes = SchemaChanges.of(store, folder);
            assertThat(changes.status()).extracting(FileState::state).containsOnly(State.APPLIED);
            assertThat(store.sql("select concat(badge, mobile, country, sign) as all_of_it from guide order by badge")
                            .as(String.class)
                            .list())
                    .containsExactly("p01111NOP01", "p02112NOP02", "p03113NOP03");
            Layout layout = Written.layout(changes.history());
            assertThat(Written.differences(store, layout)).isEmpty();
            assertThat(Written.isThere(store, "seal")).isFalse();
        }
    }

    @Test
    void killedAtAnyStatementSomebodyElseGoesOn() throws Exception {
        begin();
        String said = output(child(-1, "halt"), 0);
        isDone();
        int events = Integer.parseInt(said.substring(said.indexOf("DONE ") + 5).strip());
        int each = LONG ? 1 : events / SOME;
        for (int at = LONG ? 1 : each / 2 + database.ordinal(); at <= events; at += each) {
            begin();
            output(child(at, "halt"), 137);
            try (Store store = Store.open(ApplyChild.MODEL, url)) {
                SchemaChanges.of(store, folder).evolution().apply(ApplyTerms.ALL.losing("2026-12-03-second"));
            }
            isDone();
        }
    }

    @Test
    void whoIsStoppedForAWhileKeepsTheClaim() throws Exception {
        assumeThat(Path.of("/bin/kill")).exists();
        begin(served());
        Process child = child(40, "wait");
        StringBuilder said = new StringBuilder();
        while (said.indexOf("WAITING") < 0) {
            int next = child.getInputStream().read();
            assertThat(next).as(said.toString()).isNotNegative();
            said.append((char) next);
        }
        signal(child, "-STOP");
        List<String> told = new CopyOnWriteArrayList<>();
        List<String> applied = new ArrayList<>();
        try (Store store = Store.open(ApplyChild.MODEL, url)) {
            SchemaChanges changes = SchemaChanges.of(store, folder);
            ApplyTerms terms = ApplyTerms.ALL.losing("2026-12-03-second").waiting(Duration.ofSeconds(2));
            assertThatThrownBy(() -> changes.evolution().told(told::add).apply(terms))
                    .hasMessageContaining("changes are being applied by")
                    .hasMessageContaining("process " + child.pid());
            assertThat(told).anyMatch(line -> line.startsWith("waiting for"));
            signal(child, "-CONT");
            child.getOutputStream().write('\n');
            child.getOutputStream().flush();
            applied.addAll(changes.evolution().apply(terms.waiting(Duration.ofMinutes(1))));
        } finally {
            signal(child, "-CONT");
            child.getOutputStream().close();
            child.waitFor(30, TimeUnit.SECONDS);
            child.destroyForcibly();
        }
        assertThat(applied).isEmpty();
        isDone();
    }

    /** Eight programs that begin at once: on a database that has nothing yet, and on one that lacks two files. */
    @Test
    void ofManyProgramsThatBeginAtOnceOneDoesTheWork() throws Exception {
        url = served();
        Files.writeString(folder.resolve("2026-12-03-second.yaml"), SECOND);
        assertThat(applied(LONG ? 8 : 3)).containsExactlyInAnyOrder("2026-11-20-first", "2026-12-03-second");
        if (LONG) {
            Files.writeString(folder.resolve("2026-12-04-third.yaml"), """
                    bathra: 1
                    after: 2026-12-03-second
                    steps:
                      - add attribute: Guide.nick
                        type: text 10
                      - add unique: Guide.sign
                    """);
            Files.writeString(folder.resolve("2026-12-05-fourth.yaml"), """
                    bathra: 1
                    after: 2026-12-04-third
                    steps:
                      - add index: Guide.[nick]
                    """);
            assertThat(applied(8)).containsExactlyInAnyOrder("2026-12-04-third", "2026-12-05-fourth");
        }
        try (Store store = Store.open(ApplyChild.MODEL, url)) {
            SchemaChanges changes = SchemaChanges.of(store, folder);
            assertThat(changes.status()).extracting(FileState::state).containsOnly(State.APPLIED);
            assertThat(Written.differences(store, Written.layout(changes.history())))
                    .isEmpty();
        }
    }

    /** What several programs have applied, all of them together. */
    private List<String> applied(int programs) throws Exception {
        List<Process> children = new ArrayList<>();
        for (int i = 0; i < programs; i++) {
            children.add(child(-1, "halt"));
        }
        List<String> applied = new ArrayList<>();
        for (Process child : children) {
            output(child, 0)
                    .lines()
                    .filter(line -> line.startsWith("APPLIED "))
                    .forEach(line -> applied.add(line.substring("APPLIED ".length())));
        }
        return applied;
    }

    /** A database in a server: on H2, whoever has the file open would serve it to others. */
    private String served() throws Exception {
        if (database != TestDatabase.H2) {
            return database.sharedUrl();
        }
        server = Server.createTcpServer("-ifNotExists", "-tcpPort", "0").start();
        return "jdbc:h2:tcp://localhost:" + server.getPort() + "/"
                + Files.createTempDirectory("bathra-test").resolve("served");
    }

    /** The server goes on with a statement whose client is gone; nobody takes over before it is done with that. */
    @Test
    void aStatementThatGoesOnWithoutItsClientIsWaitedFor() throws Exception {
        assumeThat(database).as("it has no server").isNotEqualTo(TestDatabase.SQLITE);
        begin(served());
        Files.writeString(folder.resolve("2026-12-03-second.yaml"), """
                bathra: 1
                after: 2026-11-20-first
                steps:
                  - sql: a slow table
                    of:
                      mariadb: create table slow as select sleep(4) as n
                      postgresql: create table slow as select pg_sleep(4)::text as n
                      h2: create table slow as select sum(a.x * b.x) as n from system_range(1, 2500) a, system_range(1, 2500) b
                """);
        Process child = child(-1, "halt");
        String running = switch (database) {
            case MARIADB -> "select count(*) from information_schema.processlist where info like 'create table slow%'";
            case H2 ->
                "select count(*) from information_schema.sessions where executing_statement like 'create table"
                        + " slow%'";
            default ->
                "select count(*) from pg_stat_activity where state = 'active' and query like 'create table slow%'";
        };
        List<String> told = new CopyOnWriteArrayList<>();
        try (Store store = Store.open(ApplyChild.MODEL, url)) {
            while (store.sql(running).as(Long.class).one() == 0) {
                assertThat(child.isAlive()).isTrue();
                Thread.sleep(20);
            }
            child.destroyForcibly().waitFor();
            assertThat(store.sql(running).as(Long.class).one()).isEqualTo(1);
            SchemaChanges changes = SchemaChanges.of(store, folder);
            assertThat(changes.evolution().told(told::add).apply(ApplyTerms.ALL))
                    .containsExactly("2026-12-03-second");
            assertThat(told).anyMatch(line -> line.startsWith("waiting for"));
            assertThat(store.sql(running).as(Long.class).one()).isZero();
            assertThat(store.sql("select count(*) from slow").as(Long.class).one())
                    .isEqualTo(1);
        }
    }

    private static void signal(Process child, String signal) throws Exception {
        new ProcessBuilder("/bin/kill", signal, String.valueOf(child.pid()))
                .start()
                .waitFor();
    }
}
