package io.bathra.history;

import io.bathra.schema.Layout;
import java.util.Map;

/** One change of a schema, in the words of a model. */
public sealed interface SchemaStep permits SheetStep, FieldStep, RuleStep, DataStep {
    /**
     * The layout after the step.
     *
     * @throws StepMisfit when the step does not fit the layout before it
     */
    Layout after(Layout before);

    /** What it does, in a few words: {@code add attribute Operator.country}. */
    String title();

    /** The names of sheets that it changes, from before to after, in a layout before it. */
    default Map<String, String> renamedSheets(Layout before) {
        return Map.of();
    }

    /** The names of fields of a sheet that it changes, from before to after, in a layout before it. */
    default Map<String, String> renamedFields(Layout before, String sheet) {
        return Map.of();
    }

    /** Whether rows or values are lost by it. */
    default boolean isLosing() {
        return false;
    }
}
