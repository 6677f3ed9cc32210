package io.bathra.bench;

import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.ApplyTerms;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Map;

/**
 * How long those who read and write wait while a table of half a million rows changes: by change files, and by the
 * statement that one would write by hand. Four readers and two writers work all the while, and somebody whose transaction
 * reads the table stays for two seconds, again and again.
 */
public final class ChangesUnderLoad {
    static final class Nothing {
        Long id;

        Long id() {
            return id;
        }
    }

    private static final Model MODEL = Model.of("nothing", Entity.of(Nothing.class, Nothing::new));

    private static final String BEGIN = """
            bathra: 1
            steps:
              - create entity: Quay
                key: [id]
                attributes:
                  id: long
              - create entity: Crate
                key: [id]
                attributes:
                  id: long
                  code: { type: text 12, required: true }
                  weight: integer
            """;

    private static final String NEXT = """
            bathra: 1
            after: 2026-11-20-begin
            steps:
            """;

    /** A change, as a step and by hand; the latter by the word for a product, or for any. */
    private record Job(String name, String step, Map<String, List<String>> byHand) {
        List<String> byHand(String database) {
            return byHand.getOrDefault(database.split(" ")[0], byHand.getOrDefault("any", List.of()));
        }
    }

    private static final List<Job> JOBS = List.of(
            new Job(
                    "index",
                    "  - add index: Crate.[weight]\n",
                    Map.of("any", List.of("create index crate_weight on crate (weight)"))),
            new Job(
                    "unique",
                    "  - add unique: Crate.code\n",
                    Map.of(
                            "any",
                            List.of("alter table crate add constraint crate_code unique (code)"),
                            "sqlite",
                            List.of("create unique index crate_code on crate (code)"))),
            new Job(
                    "link",
                    "  - add link: Crate.quay\n    to: Quay\n",
                    Map.of(
                            "any",
                            List.of(
                                    "alter table crate add column quay_id bigint",
                                    "create index crate_quay on crate (quay_id)",
                                    "alter table crate add constraint crate_quay_fk foreign key (quay_id) references"
                                            + " quay (id)"),
                            "sqlite",
                            List.of(
                                    "alter table crate add column quay_id bigint references quay (id)",
                                    "create index crate_quay on crate (quay_id)"))),
            new Job(
                    "required, filled",
                    "  - add attribute: Crate.label\n    type: text 20\n    required: true\n    fill: { term: { upper: code"
                            + " } }\n",
                    Map.of(
                            "any",
                            List.of(
                                    "alter table crate add column label varchar(20)",
                                    "update crate set label = upper(code)",
                                    "alter table crate alter column label set not null"),
                            "mariadb",
                            List.of(
                                    "alter table crate add column label varchar(20)",
                                    "update crate set label = upper(code)",
                                    "alter table crate modify column label varchar(20) not null"),
                            "sqlite",
                            List.of(
                                    "alter table crate add column label text not null default ''",
                                    "update crate set label = upper(code)"))));

    private ChangesUnderLoad() {}

    /** Takes the name of a database, and how many rows there are. */
    public static void main(String[] args) throws IOException, SQLException, InterruptedException {
        int rows = args.length > 1 ? Integer.parseInt(args[1]) : 500_000;
        try (Server server = Server.start(args[0])) {
            System.out.printf(
                    "%-11s %-17s %-11s %9s %15s %15s %11s%n",
                    "database", "change", "way", "took", "longest read", "longest write", "statements");
            for (Job job : JOBS) {
                List<String> byHand = job.byHand(args[0]);
                take(server, args[0], rows, job.name(), "by hand", () -> byHand(server, byHand));
                take(server, args[0], rows, job.name(), "by file", () -> byFile(server, job));
            }
        }
        System.exit(0);
    }

    private interface Change {
        void make() throws SQLException, IOException;
    }

    private static void take(Server server, String database, int rows, String job, String way, Change change)
            throws IOException, SQLException, InterruptedException {
        prepare(server, database, rows);
        Load load = new Load(server.url(), rows);
        load.begin();
        Thread.sleep(1_000);
        load.forget();
        long start = System.nanoTime();
        change.make();
        double seconds = (System.nanoTime() - start) / 1e9;
        Thread.sleep(500);
        load.end();
        System.out.printf(
                "%-11s %-17s %-11s %7.1f s %12.0f ms %12.0f ms %11d%s%n",
                database,
                job,
                way,
                seconds,
                load.longestRead() / 1e6,
                load.longestWrite() / 1e6,
                load.statements(),
                load.failures().isEmpty() ? "" : "  failed: " + load.failures());
    }

    private static Path folder(String next) throws IOException {
        Path folder = Files.createTempDirectory("bathra-bench-changes");
        Files.writeString(folder.resolve("2026-11-20-begin.yaml"), BEGIN);
        if (!next.isEmpty()) {
            Files.writeString(folder.resolve("2026-12-03-next.yaml"), NEXT + next);
        }
        return folder;
    }

    private static void prepare(Server server, String database, int rows) throws IOException, SQLException {
        execute(
                server,
                List.of(
                        "drop table if exists crate",
                        "drop table if exists quay",
                        "drop table if exists bathra_change",
                        "drop table if exists bathra_claim"));
        try (Store store = Store.open(MODEL, server.source())) {
            SchemaChanges.of(store, folder("")).apply();
        }
        String series = switch (database.split(" ")[0]) {
            case "postgresql" -> "generate_series(1, " + rows + ") s(n)";
            case "mariadb" -> "(select seq as n from seq_1_to_" + rows + ") s";
            case "h2" -> "(select x as n from system_range(1, " + rows + ")) s";
            default ->
                "(with recursive r(n) as (select 1 union all select n + 1 from r where n < " + rows
                        + ") select n from r) s";
        };
        execute(
                server,
                List.of(
                        "insert into quay (id) values (1)",
                        "insert into crate (id, code, weight) select n, concat('c', n), n % 1000 from " + series));
        if (database.equals("postgresql")) {
            execute(server, List.of("vacuum analyze crate"));
        }
    }

    private static void byHand(Server server, List<String> statements) throws SQLException {
        execute(server, statements);
    }

    private static void byFile(Server server, Job job) throws IOException {
        try (Store store = Store.open(MODEL, server.source())) {
            SchemaChanges.of(store, folder(job.step())).evolution().apply(ApplyTerms.ALL);
        }
    }

    private static void execute(Server server, List<String> statements) throws SQLException {
        try (Connection connection = server.source().getConnection();
                Statement statement = connection.createStatement()) {
            for (String limit : Load.patience(server.url())) {
                statement.execute(limit);
            }
            for (String sql : statements) {
                statement.execute(sql);
            }
        }
    }
}
