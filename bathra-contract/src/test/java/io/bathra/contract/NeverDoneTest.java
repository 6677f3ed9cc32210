package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.DatabaseProduct;
import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.ApplyTerms;
import io.bathra.history.Draft;
import io.bathra.history.FieldStep;
import io.bathra.history.SchemaStep;
import io.bathra.jdbc.Database;
import io.bathra.mapping.ColumnType.Kind;
import io.bathra.schema.Column;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Table;
import io.bathra.sql.Alterations;
import io.bathra.sql.StepSql;
import io.bathra.sql.StepSql.Role;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.StatementListener;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What is never executed when a schema changes, since it loses rows, cuts values, or stops others. */
@Tag("exhaustive")
class NeverDoneTest {
    private static final int PAIRS = 60;
    private static final Pattern MODIFIED = Pattern.compile("modify column (\"[^\"]+\"|`[^`]+`|\\S+) (.*)");

    @TempDir
    Path folder;

    /** Statements of a step, and the layout after it. */
    private record Step(SchemaStep step, List<StepSql> statements, Layout after) {}

    /** The steps of many histories, as a product executes them. */
    private static List<Step> steps(TestDatabase database) {
        Alterations alterations =
                Database.named(product(database).toString(), null).dialect().alterations();
        List<Step> all = new ArrayList<>();
        Random random = new Random(7);
        for (int i = 0; i < PAIRS; i++) {
            Layout first = new RandomLayout(database, random).layout();
            Layout second = RandomLayout.after(first, database, random);
            Map<String, String> renamed = RandomLayout.renamed(first, second, random);
            Layout layout = first;
            for (SchemaStep step : Draft.of(first, second, renamed, Map.of()).steps()) {
                Layout after = step.after(layout);
                all.add(new Step(step, alterations.statements(step, layout, after), after));
                layout = after;
            }
        }
        assertThat(all).hasSizeGreaterThan(PAIRS);
        return all;
    }

    private static DatabaseProduct product(TestDatabase database) {
        return DatabaseProduct.valueOf(database.name().toUpperCase(Locale.ROOT));
    }

    @Test
    void onPostgresTextsStayInTheOrderOfTheirCodePointsAndTablesAreNotScannedUnderLocks() {
        int texts = 0;
        for (Step step : steps(TestDatabase.POSTGRESQL)) {
            for (StepSql one : step.statements()) {
                String sql = one.sql();
                if (sql.contains(" type varchar") || sql.contains(" type text")) {
                    texts++;
                    assertThat(sql).contains("collate \"C\"");
                }
                if (sql.contains("foreign key") && sql.startsWith("alter table")
                        || sql.contains(" check (") && sql.startsWith("alter table")) {
                    assertThat(sql).endsWith("not valid");
                }
                boolean creates = sql.startsWith("create table");
                if (sql.contains("index")
                        && sql.startsWith("create")
                        && !creates
                        && isOfATableThatWasThere(step, sql)) {
                    assertThat(sql).contains("concurrently").doesNotContain("if not exists");
                    assertThat(one.role()).isEqualTo(Role.ALONE);
                }
            }
        }
        assertThat(texts).isPositive();
    }

    private static boolean isOfATableThatWasThere(Step step, String sql) {
        return step.statements().stream()
                .filter(one -> one.sql().startsWith("create table"))
                .noneMatch(one -> sql.contains(
                        " on " + one.sql().substring("create table ".length()).split(" ")[0] + " "));
    }

    @Test
    void onMariaDbAColumnKeepsWhatIsNotSaidOfIt() {
        int modified = 0;
        int unseen = 0;
        for (Step step : steps(TestDatabase.MARIADB)) {
            List<StepSql> statements = step.statements();
            for (int i = 0; i < statements.size(); i++) {
                String sql = statements.get(i).sql();
                Matcher modify = MODIFIED.matcher(sql);
                if (modify.find()) {
                    modified++;
                    Column column = column(step, sql, modify.group(1).replaceAll("[\"`]", ""));
                    assertThat(modify.group(2).contains("not null")).as(sql).isEqualTo(column.required());
                    assertThat(modify.group(2).contains("default")
                                    || modify.group(2).contains(" as ("))
                            .as(sql)
                            .isEqualTo(column.made() != null || column.generated());
                }
                if (sql.contains("foreign_key_checks")) {
                    unseen++;
                    assertThat(sql).startsWith("set statement foreign_key_checks = 0 for ");
                    assertThat(statements.get(i + 1).role()).isEqualTo(Role.NO_ROWS);
                    assertThat(statements.get(i + 1).sql()).contains("not exists");
                }
            }
        }
        assertThat(modified).isPositive();
        assertThat(unseen).isPositive();
    }

    private static Column column(Step step, String sql, String name) {
        Table table = step.after().tables().stream()
                .filter(one -> sql.startsWith("alter table " + one.name() + " ")
                        || sql.startsWith("alter table `" + one.name() + "` "))
                .findFirst()
                .orElseThrow(() -> new AssertionError(sql));
        return table.columns().stream()
                .filter(one -> one.name().equals(name))
                .findFirst()
                .orElseThrow(() -> new AssertionError(sql));
    }

    @Test
    void onSqliteKeysAreOffBeforeTheTransactionInWhichATableIsMadeAnew() {
        int anew = 0;
        for (Step step : steps(TestDatabase.SQLITE)) {
            List<String> sql = step.statements().stream().map(StepSql::sql).toList();
            int begin = sql.indexOf("begin immediate");
            if (begin >= 0) {
                anew++;
                assertThat(sql.subList(0, begin))
                        .contains("pragma foreign_keys = off", "pragma legacy_alter_table = on");
                int commit = sql.indexOf("commit");
                assertThat(sql.subList(begin, commit)).anyMatch(one -> one.contains("foreign_key_check"));
                assertThat(sql.subList(commit, sql.size())).contains("pragma foreign_keys = on");
            } else {
                assertThat(sql).noneMatch(one -> one.startsWith("drop table") && one.contains("bathra_new_"));
            }
        }
        assertThat(anew).isPositive();
    }

    @ParameterizedTest
    @EnumSource(TestDatabase.class)
    void noFewerDigitsUnlessRowsWereLookedAt(TestDatabase database) {
        Alterations alterations =
                Database.named(product(database).toString(), null).dialect().alterations();
        for (Step step : steps(database)) {
            if (step.step() instanceof FieldStep.Change change
                    && change.field() instanceof Field.OfColumn old
                    && change.newField() instanceof Field.OfColumn now
                    && old.type().kind() == Kind.DECIMAL
                    && now.type().kind() == Kind.DECIMAL
                    && now.type().scale() < old.type().scale()) {
                assertThat(alterations.offences(change, step.after()))
                        .anyMatch(one -> one.what().contains("would be rounded"));
            }
            assertThat(step.statements()).noneMatch(one -> one.sql().startsWith("create table if not exists"));
        }
    }

    /** On the databases where somebody may wait, no definition changes before the time for a lock is short. */
    @ParameterizedTest
    @EnumSource(TestDatabase.class)
    void nobodyWaitsForALockForLongNorWithinATransactionThatStaysOpen(TestDatabase database) throws Exception {
        Files.writeString(folder.resolve("2026-11-20-first.yaml"), """
                bathra: 1
                steps:
                  - create entity: Pilot
                    key: [id]
                    keys: generated
                    attributes:
                      id: long
                      badge: text 10
                """);
        Files.writeString(folder.resolve("2026-12-03-second.yaml"), """
                bathra: 1
                after: 2026-11-20-first
                steps:
                  - add index: Pilot.[badge]
                  - add unique: Pilot.badge
                """);
        List<String> executed = new CopyOnWriteArrayList<>();
        StatementListener listener = statement -> {
            executed.add(statement.sql());
            return (ended, failure) -> {};
        };
        String url = database.sharedUrl();
        try (Store store = Store.open(ApplyChild.MODEL, url)) {
            SchemaChanges.of(store.heardBy(listener), folder).evolution().apply(ApplyTerms.ALL);
        }
        String limit = database == TestDatabase.SQLITE ? "busy_timeout" : "lock";
        int limited = index(executed, "set lock|pragma busy_timeout =|set innodb_lock");
        assertThat(limited).as(limit).isPositive();
        if (database == TestDatabase.MARIADB) {
            assertThat(index(executed, "set sql_mode = .*STRICT_ALL_TABLES"))
                    .isBetween(0, index(executed, "create table \\S*pilot.*"));
        }
        int altered = index(executed, "create table \\S*pilot.*|create (unique )?index.*|alter table \\S*pilot.*");
        assertThat(limited).isLessThan(altered);
        int open = 0;
        for (String sql : executed) {
            open += sql.startsWith("begin") && !sql.startsWith("begin not atomic") ? 1 : 0;
            open -= sql.equals("commit") || sql.equals("rollback") ? 1 : 0;
            if (sql.contains("concurrently")) {
                assertThat(open).as(sql).isZero();
            }
        }
        assertThat(open).isZero();
    }

    private static int index(List<String> executed, String pattern) {
        for (int i = 0; i < executed.size(); i++) {
            if (Pattern.compile(pattern).matcher(executed.get(i)).lookingAt()) {
                return i;
            }
        }
        return -1;
    }
}
