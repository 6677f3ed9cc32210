package io.bathra;

import io.bathra.mapping.Attribute;
import io.bathra.mapping.Mapping;
import io.bathra.model.Model;
import io.bathra.plan.Plan;
import io.bathra.sql.Dialect;
import io.bathra.sql.StepText;
import io.bathra.trace.Operation;
import java.util.List;
import java.util.Set;
import java.util.function.Function;

/**
 * The ordered steps of one flush. An immutable value: it can be printed, or asserted on in a test, before anything is
 * executed. The same changes give the same plan.
 *
 * <pre>{@code
 * System.out.println(work.plan());
 * }</pre>
 */
public final class FlushPlan {
    private final Plan plan;
    private final List<Step> steps;

    private FlushPlan(Plan plan, Function<io.bathra.plan.Step, String> sql) {
        this.plan = plan;
        this.steps = plan.steps().stream()
                .map(step -> new Step(step, sql.apply(step)))
                .toList();
    }

    static FlushPlan of(Plan plan, Dialect dialect) {
        return new FlushPlan(plan, step -> StepText.of(dialect, step));
    }

    /**
     * {@return the plan for storing new objects and everything new that they reach} Needs no database.
     *
     * @param model the model
     * @param objects the objects
     * @throws io.bathra.error.InvalidChangesException when they cannot be stored as they are
     * @throws io.bathra.error.UnorderableChangesException when no order can write them
     */
    public static FlushPlan ofNew(Model model, Object... objects) {
        return new FlushPlan(Plan.ofNew(Mapping.of(model), objects), step -> "");
    }

    /** One step of a flush: one operation on rows of one table that set the same columns. Immutable. */
    public static final class Step {
        private final io.bathra.plan.Step step;
        private final String statement;

        private Step(io.bathra.plan.Step step, String statement) {
            this.step = step;
            this.statement = statement;
        }

        /** {@return what is done to the rows} */
        public Operation operation() {
            return step.operation();
        }

        /** {@return the name of the entity; of rows behind parts or a pivot, that of the attribute} */
        public String entity() {
            return step.entity().name();
        }

        /** {@return the table's name} */
        public String table() {
            return step.table();
        }

        /**
         * {@return the attributes that an insert or update sets, in the order of the table's columns; the key alone
         * for a delete}
         */
        public List<String> columns() {
            return step.columns().stream().map(Attribute::name).toList();
        }

        /** {@return how many rows it writes; 0 for a cascade, of which only the database knows} */
        public int rowCount() {
            return step.rowCount();
        }

        /** {@return the rows in the order in which they are written: {@code Vessel 7}, {@code Vessel (new #3)}} */
        public List<String> rows() {
            return step.rows();
        }

        /** {@return whether it concerns all rows that go along with removed ones, however many there are} */
        public boolean isCascade() {
            return step.isCascade();
        }

        /** {@return why the step stands where it stands; empty when it could stand anywhere} */
        public String why() {
            return step.why();
        }

        /** {@return the SQL that the store's database will be given; empty in a plan that was made without a store} */
        public String statement() {
            return statement;
        }

        @Override
        public String toString() {
            return step.toString();
        }
    }

    /**
     * {@return whether the checks of deferrable constraints are put off to the end, since no order of the rows
     * fulfils them}
     */
    public boolean isDeferring() {
        return plan.isDeferring();
    }

    /** {@return the tables whose rows the database deletes, or whose links it empties, by itself} */
    public Set<String> leftToDatabase() {
        return plan.leftToDatabase();
    }

    /** {@return the steps in the order of their execution} */
    public List<Step> steps() {
        return steps;
    }

    /** {@return whether there is nothing} */
    public boolean isEmpty() {
        return steps.isEmpty();
    }

    /** {@return how many rows all steps write together} */
    public int rowCount() {
        return plan.rowCount();
    }

    /** An aligned table, one line a step. */
    @Override
    public String toString() {
        return plan.toString();
    }
}
