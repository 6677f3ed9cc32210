package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.Change;
import io.bathra.evolve.Written;
import io.bathra.history.Draft;
import io.bathra.history.SameLayout;
import io.bathra.history.SchemaStep;
import io.bathra.jdbc.Database;
import io.bathra.schema.Layout;
import io.bathra.sql.Dialect;
import io.bathra.sql.StepSql;
import io.bathra.testing.TenSeconds;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import javax.sql.DataSource;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.lifecycle.AddLifecycleHook;

/**
 * Whatever two models ask for, the steps that are drafted lead from one to the other, on paper and on each database,
 * and a second draft has nothing to do.
 */
@AddLifecycleHook(TenSeconds.class)
class SchemaHistoryTest {
    private static final String SEED = "2029";

    @Property(tries = 3000, seed = SEED)
    void onH2(@ForAll long seed) throws SQLException {
        new Way(TestDatabase.H2, seed).go();
    }

    @Property(tries = 3000, seed = SEED)
    void onSqlite(@ForAll long seed) throws SQLException {
        new Way(TestDatabase.SQLITE, seed).go();
    }

    @Property(tries = 3000, seed = SEED)
    void onPostgres(@ForAll long seed) throws SQLException {
        new Way(TestDatabase.POSTGRESQL, seed).go();
    }

    @Property(tries = 3000, seed = SEED)
    void onMariaDb(@ForAll long seed) throws SQLException {
        new Way(TestDatabase.MARIADB, seed).go();
    }

    /** From one layout to another. */
    private static final class Way {
        private final TestDatabase database;
        private final Random random;

        Way(TestDatabase database, long seed) {
            this.database = database;
            this.random = new Random(seed);
        }

        void go() throws SQLException {
            Layout first = new RandomLayout(database, random).layout();
            Layout second = new RandomLayout(database, random).layout();
            Map<String, String> renamed = RandomLayout.renamed(first, second, random);
            List<SchemaStep> begin =
                    Draft.of(Layout.EMPTY, first, Map.of(), Map.of()).steps();
            List<SchemaStep> steps = Draft.of(first, second, renamed, Map.of()).steps();
            Layout replayed = first;
            for (SchemaStep step : steps) {
                replayed = step.after(replayed);
            }
            assertThat(SameLayout.is(replayed, second)).isTrue();
            assertThat(Draft.of(replayed, second, Map.of(), Map.of()).steps()).isEmpty();
            if (random.nextInt(5) == 0) {
                asFiles(first, begin, second, steps);
            }
            DataSource source = database.empty();
            Database product;
            try (Connection connection = source.getConnection()) {
                product = Database.of(connection, null);
                Layout there = execute(connection, product.dialect(), Layout.EMPTY, begin);
                execute(connection, product.dialect(), there, steps);
            }
            try (Store store = Store.open(ApplyChild.MODEL, source)) {
                assertThat(Written.differences(store, second)).isEmpty();
            }
        }

        /** What is written to files is what is read from them. */
        private static void asFiles(Layout first, List<SchemaStep> begin, Layout second, List<SchemaStep> steps) {
            try {
                Path folder = Files.createTempDirectory("changes");
                List<Change> changes = new ArrayList<>();
                if (!begin.isEmpty()) {
                    changes.add(Written.change("2026-11-20-first", null, Layout.EMPTY, begin));
                }
                if (!steps.isEmpty()) {
                    String after = changes.isEmpty() ? null : "2026-11-20-first";
                    changes.add(Written.change("2026-12-03-second", after, first, steps));
                }
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

        private Layout execute(Connection connection, Dialect dialect, Layout before, List<SchemaStep> steps) {
            Layout layout = before;
            for (SchemaStep step : steps) {
                Layout after = step.after(layout);
                for (StepSql one : dialect.alterations().statements(step, layout, after)) {
                    try (Statement statement = connection.createStatement()) {
                        statement.execute(one.sql());
                    } catch (SQLException e) {
                        throw new AssertionError(
                                step.title() + ": " + one.sql() + "\n  " + e.getMessage() + "\n" + step, e);
                    }
                }
                layout = after;
            }
            return layout;
        }
    }
}
