package io.bathra.contract;

import static io.bathra.attr.DeleteRule.CASCADE;
import static io.bathra.model.Declare.computed;
import static io.bathra.model.Declare.databaseDefault;
import static io.bathra.model.Declare.deferrable;
import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.the;
import static io.bathra.testing.TestDatabase.H2;
import static io.bathra.testing.TestDatabase.MARIADB;
import static io.bathra.testing.TestDatabase.POSTGRESQL;
import static io.bathra.testing.TestDatabase.SQLITE;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.Store;
import io.bathra.jdbc.UrlDataSource;
import io.bathra.link.Link;
import io.bathra.model.Difference;
import io.bathra.model.Difference.Kind;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.function.UnaryOperator;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Each kind of difference, made by hand and found; and none where there is none. */
@OnEachDatabase
class VerifyTest {
    enum Roof {
        OPEN,
        COVERED
    }

    static final class Depot {
        private Long id;
        private String code;
        private Roof roof;
        private boolean heated;
        private Integer capacity;
        private int used;
        private Integer free;
        private BigDecimal fee;
        private final Link<Depot> annexOf = Link.empty();

        Long id() {
            return id;
        }

        String code() {
            return code;
        }

        Roof roof() {
            return roof;
        }

        Integer capacity() {
            return capacity;
        }

        int used() {
            return used;
        }

        Integer free() {
            return free;
        }

        BigDecimal fee() {
            return fee;
        }

        Link<Depot> annexOf() {
            return annexOf;
        }
    }

    private static final Model MODEL = Model.of(
            "depots",
            Entity.of(Depot.class, Depot::new)
                    .column(Depot::code, required(), length(10), unique(), deferrable())
                    .column(Depot::capacity, required(), databaseDefault("10"))
                    .column(Depot::free, computed("capacity - used"))
                    .column(Depot::fee, digits(8, 2))
                    .link(Depot::annexOf, onDelete(CASCADE), deferrable())
                    .index("depot_by_room", Depot::used, Depot::roof)
                    .check("never_too_full", the(Depot::used).atMost(the(Depot::capacity)))
                    .check("never_negative", number(Depot::used).atLeast(0)));

    /** What is done to the statement that makes the table, and what has to be said about it. */
    enum Deed {
        NOTHING(sql -> sql, ""),
        COLUMN(sql -> line(sql, "fee "), "depot.fee: there is no such column"),
        SIZE(sql -> swap(sql, "8, 2", "9, 3"), "depot.fee: it is (decimal|numeric)\\(9, 3\\), but should be .*8, ?2.*"),
        NOT_NULL(
                sql -> sql.replaceFirst("(code [^\\n]*) not null", "$1"),
                "depot.code: it may be empty, but must have a value"),
        KEY(
                sql -> swap(sql, "constraint depot_id_pk primary key (id)", "unique (id)"),
                "depot: its primary key is \\[\\], but should be \\[id\\]",
                H2,
                POSTGRESQL,
                MARIADB),
        UNIQUE(sql -> line(sql, "depot_code_unique"), "depot: there is no unique constraint on \\[code\\]"),
        ANOTHER_UNIQUE(
                sql -> more(sql, "unique (used, code)"),
                "depot: the model knows no unique constraint on \\[(?i:used, code)\\]"),
        FOREIGN_KEY(sql -> line(sql, "_fk"), "depot: there is no foreign key from \\[annex_of_id\\] to depot \\[id\\]"),
        ANOTHER_FOREIGN_KEY(
                sql -> more(sql, "foreign key (code) references depot (code)"),
                "depot: the model knows no foreign key from \\[(?i:code)\\] to (?i:depot \\[code\\])",
                H2,
                SQLITE,
                MARIADB),
        DELETE_RULE(
                sql -> swap(sql, " on delete cascade", " on delete set null"),
                "depot: the foreign key from \\[annex_of_id\\] to depot is on delete set null, but should be on delete"
                        + " cascade"),
        DEFERRABLE_KEY(
                sql -> swap(sql, "on delete cascade deferrable", "on delete cascade"),
                "depot: the foreign key from \\[annex_of_id\\] to depot is not deferrable, but should be",
                POSTGRESQL),
        DEFERRABLE_UNIQUE(
                sql -> swap(sql, "unique (code) deferrable", "unique (code)"),
                "depot: the unique constraint on \\[code\\] is not deferrable, but should be",
                POSTGRESQL),
        INDEX_ORDER(sql -> swap(sql, "(used, roof)", "(roof, used)"), "depot: there is no index on \\[used, roof\\]"),
        PARTIAL_INDEX(
                sql -> swap(sql, "(used, roof)", "(used, roof) where used > 5"),
                "depot: there is no index on \\[used, roof\\]",
                POSTGRESQL,
                SQLITE),
        ENUM_SIZE(
                sql -> swap(sql, "varchar(7)", "varchar(6)"),
                "depot.roof: it is .*\\(6\\), but should be varchar\\(7\\).*",
                H2,
                POSTGRESQL,
                MARIADB),
        COLLATION_OF_POSTGRES(
                sql -> sql.replaceFirst("collate \"C\"", "collate \"und-x-icu\""),
                "depot.code: its collation is und-x-icu, .* but should be C",
                POSTGRESQL),
        COLLATION_OF_MARIADB(
                sql -> sql.replaceFirst("varchar\\(10\\)", "varchar(10) collate utf8mb4_general_ci"),
                "depot.code: its collation is utf8mb4_general_ci, .* but should be utf8mb4_nopad_bin",
                MARIADB),
        COLLATION_OF_SQLITE(
                sql -> sql.replaceFirst("(code [^\\n]*) not null", "$1 not null collate nocase"),
                "depot.code: its collation is nocase, .* but should be binary",
                SQLITE),
        COLLATION_OF_H2(
                sql -> sql.replaceFirst("varchar\\(10\\)", "varchar_ignorecase(10)"),
                "depot.code: it is varchar_ignorecase\\(10\\), but should be varchar\\(10\\)",
                H2),
        BOOLEAN_CHECK(
                sql -> swap(sql, "integer check (heated in (0, 1))", "integer"),
                "depot.heated: it is integer, but should be integer check \\(heated in \\(0, 1\\)\\)",
                SQLITE),
        CHECK(sql -> line(sql, "never_negative"), "depot: there is no check (?i:never_negative): .*"),
        ANOTHER_CHECK(
                sql -> more(sql, "constraint never_huge check (capacity < 1000)"),
                "depot: the model knows no check (?i:never_huge): .*1000.*"),
        WORDS_OF_A_CHECK(
                sql -> swap(sql, "used <= capacity", "used < capacity"),
                "depot: the check (?i:never_too_full) is \\(.*<.*\\), but should be \\(.*<=.*\\)"),
        DEFAULT(sql -> swap(sql, " default (10)", ""), "depot.capacity: it has no default, but should have \\(10\\)"),
        ANOTHER_DEFAULT(
                sql -> sql.replaceFirst("used ([a-z0-9]+)", "used $1 default 3"),
                "depot.used: it has the default \\(3\\), of which the model knows nothing"),
        WORDS_OF_A_DEFAULT(
                sql -> swap(sql, "default (10)", "default (12)"),
                "depot.capacity: its default is \\(12\\), but should be \\(10\\)"),
        COMPUTED(
                sql -> sql.replaceFirst("(free [a-z0-9]+) [^\\n]*,", "$1,"),
                "depot.free: it has no computed value, but should have \\(capacity - used\\)"),
        WORDS_OF_A_COMPUTED_VALUE(
                sql -> swap(sql, "(capacity - used)", "(capacity - used - 1)"),
                "depot.free: its computed value is \\(.*1.*\\), but should be \\(.*\\)"),
        GENERATOR(
                sql -> sql.replaceFirst("id bigint [^\\n]* not null", "id bigint not null"),
                "depot.id: the database draws no values for it, but should",
                H2,
                MARIADB);

        private final UnaryOperator<String> change;
        private final String expected;
        private final Set<TestDatabase> where;

        Deed(UnaryOperator<String> change, String expected, TestDatabase... where) {
            this.change = change;
            this.expected = expected;
            this.where = where.length == 0 ? EnumSet.allOf(TestDatabase.class) : Set.of(where);
        }

        private static String swap(String sql, String from, String to) {
            return sql.replace(from, to);
        }

        /** Without the line that holds some words. */
        private static String line(String sql, String words) {
            List<String> lines = new ArrayList<>(sql.lines().toList());
            lines.removeIf(line -> line.contains(words) && lines.size() > 1);
            return String.join("\n", lines).replaceAll(",(\\s*\\n\\))", "$1");
        }

        private static String more(String sql, String line) {
            return sql.startsWith("create table") ? sql.replace("\n)", ",\n  " + line + "\n)") : sql;
        }
    }

    private final TestDatabase database;
    private final DataSource source;

    VerifyTest(TestDatabase database) {
        this.database = database;
        source = database.empty();
    }

    @ParameterizedTest
    @EnumSource
    void whatWasDoneByHandIsFound(Deed deed) {
        assumeThat(deed.where).contains(database);
        Store store = Trips.openAsDeclared(MODEL, source);
        List<String> statements = store.schema().statements();
        List<String> changed = statements.stream().map(deed.change).toList();
        assertThat(changed.equals(statements))
                .as("something was done: %s", statements)
                .isEqualTo(deed == Deed.NOTHING);
        changed.forEach(sql -> TestDatabase.execute(source, sql));
        List<Difference> differences = store.schema().verify();
        if (deed == Deed.NOTHING) {
            assertThat(differences).isEmpty();
            assertThat(store.schema().createMissing().toString())
                    .startsWith("nothing to do; looked at 1 table, 9 columns");
            return;
        }
        assertThat(differences).singleElement().satisfies(one -> {
            assertThat(one.toString()).matches(deed.expected);
            assertThat(one.kind()).isEqualTo(deed.name().startsWith("ANOTHER") ? Kind.BEYOND : Kind.LACKING);
        });
        assertThat(store.schema().verify()).as("nothing is left of the copies").isEqualTo(differences);
    }

    /** Connections that cannot create temporary tables. */
    private DataSource visitor() throws SQLException {
        assumeThat(database.isPooled())
                .as("a session behind a pooler is nobody's own")
                .isFalse();
        try (Connection connection = source.getConnection()) {
            String url = connection.getMetaData().getURL();
            if (database == MARIADB) {
                return new UrlDataSource(url + "&sessionVariables=enforce_storage_engine=memory", "root", null);
            }
            String schema = connection.getSchema();
            for (String sql : List.of(
                    "drop owned by visitor",
                    "drop role visitor",
                    "create role visitor login password 'calm'",
                    "grant usage on schema " + schema + " to visitor",
                    "grant select on all tables in schema " + schema + " to visitor",
                    "grant select on all sequences in schema " + schema + " to visitor",
                    "revoke temporary on database " + connection.getCatalog() + " from public")) {
                try {
                    TestDatabase.execute(source, sql);
                } catch (IllegalStateException e) {
                    assertThat(sql).as("there may be none yet").startsWith("drop");
                }
            }
            return new UrlDataSource(url.replaceAll("user=[^&]*", "user=visitor"), "visitor", "calm");
        }
    }

    @Test
    void whatCannotBeComparedIsSaid() throws SQLException {
        Store store = Trips.open(MODEL, source);
        if (database == H2) { // the copies are in another database, where there is no such function
            TestDatabase.execute(source, "create alias ten as 'int ten() { return 10; }'");
            store.schema().statements().stream()
                    .map(sql -> sql.replace("default (10)", "default (ten())"))
                    .forEach(sql -> TestDatabase.execute(source, sql));
            Model own = Model.of(
                    "depots",
                    Entity.of(Depot.class, Depot::new)
                            .column(Depot::code, required(), length(10), unique())
                            .column(Depot::capacity, required(), databaseDefault("ten()"))
                            .column(Depot::free, computed("capacity - used"))
                            .column(Depot::fee, digits(8, 2))
                            .link(Depot::annexOf, onDelete(CASCADE))
                            .check("never_too_full", the(Depot::used).atMost(the(Depot::capacity)))
                            .check("never_negative", number(Depot::used).atLeast(0)));
            store = Trips.open(own, source);
        } else {
            assumeThat(database).as("it keeps expressions as they are written").isNotEqualTo(SQLITE);
            store.schema().createMissing();
            store = Trips.open(MODEL, visitor());
        }
        assertThat(store.schema().verify()).singleElement().satisfies(one -> {
            assertThat(one.kind()).isEqualTo(Kind.NOT_COMPARED);
            assertThat(one.toString())
                    .startsWith("depot: not compared: the defaults of [capacity], what computes [free], the checks"
                            + " [never_too_full, never_negative], since no copy of the table could be made: ");
        });
        assertThat(store.schema().createMissing().nothingToDo()).isTrue();
    }
}
