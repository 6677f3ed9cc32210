package io.bathra.junit;

import io.bathra.FlushPlan;
import io.bathra.UnitOfWork;
import io.bathra.model.Model;

/** The assertions of the kit. */
public final class BathraAssertions {
    private BathraAssertions() {}

    /**
     * Asserts what a store has executed.
     *
     * @param statements the statements
     * @return this assertion
     */
    public static StatementsAssert assertThat(Statements statements) {
        return new StatementsAssert(statements);
    }

    /**
     * Asserts what storing new objects, and what hangs on them, would do; it needs no database.
     *
     * @param model the model
     * @param newObjects whether new objects are taken
     * @return this assertion
     */
    public static PlanAssert assertThatPlan(Model model, Object... newObjects) {
        return new PlanAssert(FlushPlan.ofNew(model, newObjects));
    }

    /**
     * Asserts what the flush of the pending changes of a unit of work would do.
     *
     * @param work the unit of work
     * @return this assertion
     */
    public static PlanAssert assertThatPlan(UnitOfWork work) {
        return new PlanAssert(work.plan());
    }
}
