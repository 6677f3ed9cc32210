package io.bathra.plan;

import io.bathra.error.InvalidChangesException;
import io.bathra.error.UnorderableChangesException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.Mapping;
import io.bathra.text.AlignedTable;
import io.bathra.track.Collector;
import io.bathra.track.Settlement;
import io.bathra.track.Tracker;
import java.time.Clock;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/** The ordered steps of one flush. Immutable; the same changes give the same plan. */
public final class Plan {
    /** Longer lists of columns would push the reasons out of sight. */
    private static final int MOST_COLUMNS = 40;

    private final List<Step> steps;

    private final List<Settlement> settlements;

    private final boolean deferring;

    private final Set<String> leftToDatabase;

    Plan(List<Step> steps, List<Settlement> settlements, boolean deferring, Set<String> leftToDatabase) {
        this.leftToDatabase = leftToDatabase;
        this.deferring = deferring;
        this.steps = List.copyOf(steps);
        this.settlements = settlements;
    }

    /** Whether the checks of deferrable constraints are put off to the end, since no order of the rows fulfils them. */
    public boolean isDeferring() {
        return deferring;
    }

    /** What collections hold afterwards, for the flush. */
    public List<Settlement> settlements() {
        return settlements;
    }

    /**
     * The plan for storing new objects and everything new that they reach. Needs no database.
     *
     * @throws InvalidChangesException when they cannot be stored as they are
     * @throws UnorderableChangesException when no order can write them
     */
    public static Plan ofNew(Mapping model, Object... objects) {
        Tracker tracker = Tracker.alone(model);
        for (Object object : objects) {
            tracker.add(object);
        }
        return Planner.plan(tracker, new Collector(tracker, Clock.systemUTC()).collect(), Abilities.FEWEST, false);
    }

    /** The tables whose rows the database deletes, or whose links it empties, by itself. */
    public Set<String> leftToDatabase() {
        return leftToDatabase;
    }

    /** The steps in the order of their execution. */
    public List<Step> steps() {
        return steps;
    }

    public boolean isEmpty() {
        return steps.isEmpty();
    }

    /** How many rows all steps write together. */
    public int rowCount() {
        return steps.stream().mapToInt(Step::rowCount).sum();
    }

    /** An aligned table, one line a step. */
    @Override
    public String toString() {
        if (steps.isEmpty()) {
            return "nothing to flush";
        }
        AlignedTable table = new AlignedTable("#", "operation", "table", "rows", "columns", "why here");
        int number = 0;
        for (Step step : steps) {
            String columns = step.columns().stream().map(Attribute::name).collect(Collectors.joining(", "));
            boolean many = columns.length() > MOST_COLUMNS;
            table.line(
                    ++number,
                    step.operation(),
                    step.table(),
                    step.isCascade() ? "?" : step.rowCount(),
                    many ? step.columns().size() + " columns" : columns,
                    step.why());
        }
        String text = table.toString();
        if (deferring) {
            text += "\nconstraints that are deferrable are checked at the end";
        }
        if (!leftToDatabase.isEmpty()) {
            text += "\nleft to the database's own delete rules: " + String.join(", ", leftToDatabase);
        }
        return text;
    }
}
