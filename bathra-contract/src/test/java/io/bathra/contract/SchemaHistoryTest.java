package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.error.BathraException;
import io.bathra.evolve.ApplyTerms;
import io.bathra.evolve.Change;
import io.bathra.evolve.Evolution;
import io.bathra.evolve.History;
import io.bathra.evolve.Written;
import io.bathra.history.Draft;
import io.bathra.history.Fill;
import io.bathra.history.SameLayout;
import io.bathra.history.SchemaStep;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import io.bathra.testing.OnChosenDatabases;
import io.bathra.testing.TenSeconds;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import javax.sql.DataSource;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Tag;
import net.jqwik.api.lifecycle.AddLifecycleHook;
import net.jqwik.api.statistics.Statistics;

/**
 * Whatever two models ask for, the steps that are drafted lead from one to the other, on paper and on each database,
 * and a second draft has nothing to do.
 */
@Tag("exhaustive")
@AddLifecycleHook(TenSeconds.class)
@AddLifecycleHook(OnChosenDatabases.class)
class SchemaHistoryTest {
    private static final String SEED = "2029";
    private static final String FIRST = "2026-11-20-first";
    private static final String SECOND = "2026-12-03-second";

    @Property(tries = 600, seed = SEED)
    void onH2(@ForAll long seed) {
        new Way(TestDatabase.H2, seed).go();
    }

    @Property(tries = 600, seed = SEED)
    void onSqlite(@ForAll long seed) {
        new Way(TestDatabase.SQLITE, seed).go();
    }

    @Property(tries = 600, seed = SEED)
    void onPostgres(@ForAll long seed) {
        new Way(TestDatabase.POSTGRESQL, seed).go();
    }

    @Property(tries = 600, seed = SEED)
    void onMariaDb(@ForAll long seed) {
        new Way(TestDatabase.MARIADB, seed).go();
    }

    /** From one layout to another. */
    private final class Way {
        private final TestDatabase database;
        private final Random random;

        Way(TestDatabase database, long seed) {
            this.database = database;
            this.random = new Random(seed);
        }

        void go() {
            Layout first = new RandomLayout(database, random).layout();
            Layout second = RandomLayout.after(first, database, random);
            Map<String, String> renamed = RandomLayout.renamed(first, second, random);
            List<SchemaStep> begin =
                    Draft.of(Layout.EMPTY, first, Map.of(), Map.of()).steps();
            Map<String, Fill> fills = fills(first, second, renamed);
            List<SchemaStep> steps = Draft.of(first, second, renamed, fills).steps();
            Layout replayed = first;
            for (SchemaStep step : steps) {
                replayed = step.after(replayed);
            }
            assertThat(SameLayout.is(replayed, second)).isTrue();
            assertThat(Draft.of(replayed, second, Map.of(), Map.of()).steps()).isEmpty();
            List<Change> changes = new ArrayList<>();
            if (!begin.isEmpty()) {
                changes.add(Written.change(FIRST, null, Layout.EMPTY, begin));
            }
            if (!steps.isEmpty()) {
                changes.add(Written.change(SECOND, begin.isEmpty() ? null : FIRST, first, steps));
            }
            if (random.nextInt(5) == 0) {
                asFiles(changes, second);
            }
            DataSource source = database.empty();
            try (Store store = Store.open(ApplyChild.MODEL, source)) {
                apply(store, source, changes, first, second, steps);
            }
        }

        /** What is applied keeps rows, has nothing to do again, and takes the same work as a database that was made new. */
        private void apply(
                Store store,
                DataSource source,
                List<Change> changes,
                Layout first,
                Layout second,
                List<SchemaStep> steps) {
            Evolution evolution = Evolution.of(store, History.of(changes));
            ApplyTerms terms = ApplyTerms.ALL.losing(SECOND);
            boolean begun = changes.stream().anyMatch(one -> one.name().equals(FIRST));
            if (begun) {
                evolution.apply(terms.until(FIRST));
            }
            KeptRows kept = new KeptRows(first, second, steps);
            Map<String, String> before;
            try (RandomRows rows = new RandomRows(store, first, random)) {
                rows.write();
                before = kept.before(rows);
            }
            try {
                evolution.apply(terms);
            } catch (BathraException e) {
                assertThat(e).hasMessageContaining("rows are in the way of");
                Statistics.collect("refused");
                deleteAll(source);
                evolution.apply(terms);
                assertThat(Written.differences(store, second)).isEmpty();
                return;
            }
            assertThat(Written.differences(store, second)).isEmpty();
            assertThat(evolution.apply(terms)).isEmpty();
            try (RandomRows rows = new RandomRows(store, second, random)) {
                Map<String, String> after = kept.after(rows);
                before.forEach((place, value) -> {
                    if (!value.equals("nothing") || !after.containsKey(place)) {
                        assertThat(after).as("%s", titles(steps)).containsEntry(place, value);
                    }
                });
                Statistics.collect(before.isEmpty() ? "no rows" : "rows kept");
                Statistics.coverage(coverage -> coverage.check("rows kept").count(times -> times > 0));
                rows.write();
                if (random.nextInt(3) == 0 && rows.delete()) {
                    sameWork(store, second, steps);
                }
            }
        }

        /** Rows go in, or are refused, as in a database that was made new. */
        private void sameWork(Store changed, Layout layout, List<SchemaStep> steps) {
            long seed = random.nextLong();
            List<SchemaStep> all =
                    Draft.of(Layout.EMPTY, layout, Map.of(), Map.of()).steps();
            if (all.isEmpty()) {
                return;
            }
            try (Store fresh = Store.open(ApplyChild.MODEL, database.empty());
                    RandomRows one = new RandomRows(changed, layout, new Random(seed));
                    RandomRows other = new RandomRows(fresh, layout, new Random(seed))) {
                Evolution.of(fresh, History.of(List.of(Written.change(FIRST, null, Layout.EMPTY, all))))
                        .apply(ApplyTerms.ALL);
                one.write();
                other.write();
                assertThat(one.written()).as("%s", titles(steps)).isEqualTo(other.written());
                assertThat(one.refused()).as("%s", titles(steps)).isEqualTo(other.refused());
            }
        }

        /** Whoever refers to whom, all rows of all tables. */
        private void deleteAll(DataSource source) {
            try (Connection connection = source.getConnection();
                    Statement statement = connection.createStatement()) {
                List<String> tables = new ArrayList<>();
                String quote = connection.getMetaData().getIdentifierQuoteString();
                try (ResultSet found = connection
                        .getMetaData()
                        .getTables(connection.getCatalog(), connection.getSchema(), "%", null)) {
                    while (found.next()) {
                        String name = found.getString("TABLE_NAME");
                        String type = found.getString("TABLE_TYPE");
                        if (type.endsWith("TABLE")
                                && !name.toLowerCase(Locale.ROOT).matches("(bathra|sqlite)_.*")) {
                            tables.add(quote + name + quote);
                        }
                    }
                }
                statement.execute(keys(false));
                for (String table : tables) {
                    statement.execute(
                            database == TestDatabase.POSTGRESQL
                                    ? "truncate table " + table + " cascade"
                                    : "delete from " + table);
                }
                statement.execute(keys(true));
            } catch (SQLException e) {
                throw new AssertionError(e);
            }
        }

        private String keys(boolean on) {
            return switch (database) {
                case H2 -> "set referential_integrity " + on;
                case SQLITE -> "pragma foreign_keys = " + on;
                case POSTGRESQL -> "set constraints all immediate";
                case MARIADB -> "set foreign_key_checks = " + on;
            };
        }

        private static List<String> titles(List<SchemaStep> steps) {
            return steps.stream().map(SchemaStep::title).toList();
        }

        private Map<String, Fill> fills(Layout first, Layout second, Map<String, String> renamed) {
            Map<String, Fill> fills = new LinkedHashMap<>();
            for (String name : Draft.of(first, second, renamed, Map.of()).wanting()) {
                Sheet sheet = second.owner(name).orElseThrow();
                Field field =
                        sheet.field(name.substring(sheet.name().length() + 1)).orElseThrow();
                if (field instanceof Field.OfColumn column && random.nextInt(8) > 0) {
                    fills.put(
                            name,
                            new Fill.OfValue(RandomRows.literal(random, random.nextInt(100), column.type(), false)));
                }
            }
            return fills;
        }

        /** What is written to files is what is read from them. */
        private static void asFiles(List<Change> changes, Layout second) {
            try {
                Path folder = Files.createTempDirectory("changes");
                for (Change change : changes) {
                    Files.writeString(folder.resolve(change.name() + ".yaml"), SchemaChanges.text(change));
                }
                Layout read = Written.layout(SchemaChanges.of(folder).history());
                assertThat(SameLayout.is(read, second)).as("%s", changes).isTrue();
                for (Change change : changes) {
                    Files.delete(folder.resolve(change.name() + ".yaml"));
                }
                Files.delete(folder);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }
}
