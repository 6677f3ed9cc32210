package io.bathra.ledger;

import io.bathra.history.SchemaStep;
import io.bathra.schema.Layout;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A change file as it is applied.
 *
 * @param fingerprint what tells its content from any other
 * @param layouts the layout before each step, and that after the last one
 * @param breaking what breaks programs of releases before it; null for nothing
 */
public record FileSteps(
        String name,
        String fingerprint,
        List<SchemaStep> steps,
        List<Layout> layouts,
        @Nullable String breaking) {
    public FileSteps {
        steps = List.copyOf(steps);
        layouts = List.copyOf(layouts);
    }

    Layout before() {
        return layouts.get(0);
    }

    Layout after() {
        return layouts.get(layouts.size() - 1);
    }

    boolean isLosing() {
        return steps.stream().anyMatch(SchemaStep::isLosing);
    }
}
