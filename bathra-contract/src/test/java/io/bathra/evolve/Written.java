package io.bathra.evolve;

import io.bathra.Store;
import io.bathra.error.StatementException;
import io.bathra.flush.Environment;
import io.bathra.history.SchemaStep;
import io.bathra.jdbc.LiveTables;
import io.bathra.jdbc.Transaction;
import io.bathra.model.Difference;
import io.bathra.schema.Comparison;
import io.bathra.schema.Layout;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Table;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** Steps as a file, and what files have led to, for tests that begin with layouts in place of models. */
public final class Written {
    private Written() {}

    /** A file of steps. */
    public static Change change(String name, String after, Layout before, List<SchemaStep> steps) {
        List<Tree> trees = new ArrayList<>();
        Layout layout = before;
        for (SchemaStep step : steps) {
            trees.add(new StepWriter(layout).write(step));
            layout = step.after(layout);
        }
        return Change.of(name, after, trees, Map.of());
    }

    /** What all files together lead to. */
    public static Layout layout(History history) {
        List<Change> changes = history.changes();
        Layout layout = Layout.EMPTY;
        for (Change change : changes) {
            layout = Played.of(change, layout).after();
        }
        return layout;
    }

    /** What a database lacks of a layout, and what it has beyond. */
    public static List<Difference> differences(Store store, Layout layout) {
        Environment environment = Environment.of(store);
        try (Transaction transaction = environment.transaction()) {
            List<Table> tables = layout.tables();
            LiveTables there = new LiveTables(transaction);
            Map<String, LiveTable> live = there.of(tables);
            return Comparison.of(
                    tables,
                    live,
                    there.twins(tables, live),
                    environment.dialect().definitions());
        }
    }

    /** Whether a database has a table of a name. */
    public static boolean isThere(Store store, String table) {
        try {
            store.sql("select count(*) from " + table).as(Long.class).one();
            return true;
        } catch (StatementException e) {
            return false;
        }
    }
}
