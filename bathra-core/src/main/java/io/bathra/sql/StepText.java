package io.bathra.sql;

import io.bathra.mapping.ModelEntity;
import io.bathra.plan.Cascade;
import io.bathra.plan.Chain;
import io.bathra.plan.Step;
import java.util.List;
import java.util.Map;

/** The statement that a step of a plan is carried out with. */
public final class StepText {
    private StepText() {}

    /** How a step gives its rows to the database. */
    public static WriteForm form(Dialect dialect, Step step) {
        return step.isBlind()
                ? dialect.forms().blindForm(step.operation(), step.columnSet())
                : dialect.forms().form(step.operation(), step.columnSet(), step.rowCount());
    }

    /** The SQL that a step will be executed with. */
    public static String of(Dialect dialect, Step step) {
        Cascade cascade = step.cascade();
        if (cascade == null) {
            return form(dialect, step).sql().apply(1);
        }
        Map.Entry<ModelEntity<?>, List<Chain>> first =
                cascade.byRoot().entrySet().iterator().next();
        AlongWriter.Removed removed = new AlongWriter.WithKeys(cascade.removed(first.getKey()));
        List<Chain> chains = first.getValue();
        return cascade.read()
                ? AlongWriter.rows(dialect, chains.get(0), removed, link -> List.of())
                        .sql()
                : AlongWriter.write(dialect, step.operation(), chains, removed).sql();
    }
}
