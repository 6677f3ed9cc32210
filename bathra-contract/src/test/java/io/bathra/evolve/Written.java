package io.bathra.evolve;

import io.bathra.history.SchemaStep;
import io.bathra.schema.Layout;
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
}
