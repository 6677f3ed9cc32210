package io.bathra.junit;

import io.bathra.FlushPlan;
import io.bathra.trace.Operation;
import java.util.List;
import java.util.stream.IntStream;
import org.assertj.core.api.AbstractAssert;
import org.jspecify.annotations.Nullable;

/** Asserts what a flush would do, which needs no database. */
public final class PlanAssert extends AbstractAssert<PlanAssert, FlushPlan> {
    /** The step that was asked for last. */
    private int step = -1;

    private String asked = "";

    PlanAssert(FlushPlan actual) {
        super(actual, PlanAssert.class);
    }

    /**
     * {@return so many rows of an entity are inserted}
     *
     * @param entity the entity's class
     * @param rows how many rows
     */
    public PlanAssert inserts(Class<?> entity, int rows) {
        return has(Operation::inserts, "insert", entity, rows);
    }

    /**
     * {@return so many rows of an entity are updated}
     *
     * @param entity the entity's class
     * @param rows how many rows
     */
    public PlanAssert updates(Class<?> entity, int rows) {
        return has(operation -> operation.toString().startsWith("update"), "update", entity, rows);
    }

    /**
     * {@return so many rows of an entity are deleted}
     *
     * @param entity the entity's class
     * @param rows how many rows
     */
    public PlanAssert deletes(Class<?> entity, int rows) {
        return has(operation -> operation.toString().startsWith("delete"), "delete", entity, rows);
    }

    /**
     * {@return the step that was asked for last comes before all steps of an entity, of which there is one}
     *
     * @param entity the entity's class
     */
    public PlanAssert before(Class<?> entity) {
        List<Integer> others = steps(entity);
        if (step < 0) {
            failWithMessage("before(%s) follows inserts, updates or deletes", entity.getSimpleName());
        } else if (others.isEmpty()) {
            failWithMessage("%s", told("there is no step of " + entity.getSimpleName()));
        } else if (others.get(0) < step) {
            failWithMessage("%s", told(asked + " was to come before " + entity.getSimpleName()));
        }
        return this;
    }

    /**
     * {@return so many steps altogether; each is a statement or more, by the number of its rows}
     *
     * @param count how many
     */
    public PlanAssert steps(int count) {
        isNotNull();
        if (actual.steps().size() != count) {
            failWithMessage(
                    "%s",
                    told(count + " steps expected, but there are "
                            + actual.steps().size()));
        }
        return this;
    }

    /** {@return nothing is to be written} */
    public PlanAssert isEmpty() {
        return steps(0);
    }

    private interface Kind {
        boolean is(Operation operation);
    }

    private PlanAssert has(Kind kind, String word, Class<?> entity, int rows) {
        isNotNull();
        List<Integer> found = steps(entity).stream()
                .filter(i -> kind.is(actual.steps().get(i).operation()))
                .toList();
        int sum = found.stream().mapToInt(i -> actual.steps().get(i).rowCount()).sum();
        asked = word + " " + entity.getSimpleName();
        if (sum != rows) {
            failWithMessage(
                    "%s",
                    told(asked + ": " + rows + (rows == 1 ? " row" : " rows") + " expected, but there are " + sum));
        }
        step = found.isEmpty() ? -1 : found.get(found.size() - 1);
        return this;
    }

    private List<Integer> steps(Class<?> entity) {
        return IntStream.range(0, actual.steps().size())
                .filter(i -> actual.steps().get(i).entity().equals(entity.getSimpleName()))
                .boxed()
                .toList();
    }

    private String told(@Nullable String what) {
        return what + "\nthe plan:\n" + (actual.isEmpty() ? "   nothing to do" : actual);
    }
}
