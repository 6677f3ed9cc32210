package io.bathra.page;

import io.bathra.trace.Executed;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;

/**
 * A flush as it was carried out: its steps in order, each with the statements that wrote its rows.
 *
 * @param unit the number of the unit of work
 */
record FlushShown(long unit, int transaction, List<Step> steps) {
    /**
     * A step.
     *
     * @param lines the numbers of its statements in the list
     */
    record Step(int number, String operation, String table, long rows, List<Integer> lines) {}

    /** The flushes among what was executed; what belongs to no step is none of them. */
    static List<FlushShown> among(List<Event> events) {
        List<FlushShown> flushes = new ArrayList<>();
        for (int i = 0; i < events.size(); i++) {
            Executed what = events.get(i).what();
            if (what.step() > 0 && events.get(i).isStatement()) {
                flushOf(what, flushes).add(what, i + 1);
            }
        }
        return flushes;
    }

    private static FlushShown flushOf(Executed what, List<FlushShown> flushes) {
        for (int i = flushes.size() - 1; i >= 0; i--) {
            FlushShown one = flushes.get(i);
            if (one.unit == what.unit()) {
                boolean goesOn = one.transaction == what.transaction()
                        && one.steps.get(one.steps.size() - 1).number() <= what.step();
                if (goesOn) {
                    return one;
                }
                break;
            }
        }
        FlushShown fresh = new FlushShown(what.unit(), what.transaction(), new ArrayList<>());
        flushes.add(fresh);
        return fresh;
    }

    private void add(Executed what, int line) {
        Step last = steps.isEmpty() ? null : steps.get(steps.size() - 1);
        if (last != null && last.number() == what.step()) {
            last.lines().add(line);
            steps.set(
                    steps.size() - 1,
                    new Step(last.number(), last.operation(), last.table(), last.rows() + what.rows(), last.lines()));
            return;
        }
        List<Integer> lines = new ArrayList<>();
        lines.add(line);
        steps.add(new Step(
                what.step(),
                Objects.toString(what.operation(), ""),
                Objects.requireNonNullElse(what.table(), ""),
                what.rows(),
                lines));
    }
}
