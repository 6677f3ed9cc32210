package io.bathra.plan;

import io.bathra.mapping.ColumnSet;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.trace.Operation;
import io.bathra.track.Change;
import java.util.List;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** One step of a flush: one operation on rows of one table that set the same columns. Immutable. */
public final class Step {
    private final Operation operation;
    private final ColumnSet columns;
    private final List<Change> changes;
    private final Supplier<String> why;

    private final @Nullable Cascade cascade;

    /**
     * A step.
     *
     * @param why what tells the reason; it is asked only where somebody reads the plan
     */
    Step(
            Operation operation,
            ColumnSet columns,
            List<Change> changes,
            Supplier<String> why,
            @Nullable Cascade cascade) {
        this.cascade = cascade;
        this.operation = operation;
        this.columns = columns;
        this.changes = List.copyOf(changes);
        this.why = why;
    }

    /** A step for rows that nobody has seen. */
    static Step of(Cascade cascade) {
        ModelEntity<?> entity = cascade.entity();
        ColumnSet columns = cascade.operation() == Operation.UPDATE
                ? entity.columnSets().of(List.of(cascade.chains().get(0).last()))
                : entity.columnSets().keyOnly();
        return new Step(cascade.operation(), columns, List.of(), cascade::why, cascade);
    }

    /** Whether it concerns all rows that go along with removed ones, however many there are. */
    public boolean isCascade() {
        return cascade != null;
    }

    /** What becomes of rows that nobody has seen; null in a step for rows that are known. */
    public @Nullable Cascade cascade() {
        return cascade;
    }

    public Operation operation() {
        return operation;
    }

    public ModelEntity<?> entity() {
        return columns.entity();
    }

    /** The table's name. */
    public String table() {
        return columns.entity().table();
    }

    /** What an insert or update sets, in the order of the table's columns; the key alone for a delete. */
    public List<StoredAttribute> columns() {
        return columns.attributes();
    }

    /** The same as one value, by which whatever depends on it is found. */
    public ColumnSet columnSet() {
        return columns;
    }

    /** How many rows it writes; 0 for a cascade, of which only the database knows. */
    public int rowCount() {
        return changes.size();
    }

    /** The rows in the order in which they are written: {@code Vessel 7}, {@code Vessel (new #3)}. */
    public List<String> rows() {
        return changes.stream().map(change -> change.entry().toString()).toList();
    }

    /** Why the step stands where it stands; empty when it could stand anywhere. */
    public String why() {
        return why.get();
    }

    /** Whether its rows are written whatever versions they have by now. */
    public boolean isBlind() {
        return cascade == null && changes.get(0).entry().isBlind();
    }

    /** The changes behind the rows, for the flush. */
    public List<Change> changes() {
        return changes;
    }

    @Override
    public String toString() {
        if (cascade != null) {
            return operation + " " + table() + " (what goes along)";
        }
        return operation + " " + table() + " (" + rowCount() + (rowCount() == 1 ? " row)" : " rows)");
    }
}
