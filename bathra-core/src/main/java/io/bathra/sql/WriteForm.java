package io.bathra.sql;

import java.util.List;
import java.util.function.IntFunction;

/**
 * How the rows of one step are given to the database.
 *
 * @param binding how values meet placeholders
 * @param chunk the greatest number of rows of one statement
 * @param parameters what is behind each placeholder of one row, in order
 * @param sql the statement for a number of rows
 */
public record WriteForm(Binding binding, int chunk, List<Parameter> parameters, IntFunction<String> sql) {
    /** How values meet placeholders. */
    public enum Binding {
        /** The statement is executed for each row, as a JDBC batch. */
        BATCH("batch"),
        /** The placeholders are repeated for each row. */
        MULTI_ROW("multi-row"),
        /** Each placeholder takes an array with the values of all rows. */
        ARRAYS("arrays");

        private final String words;

        Binding(String words) {
            this.words = words;
        }

        @Override
        public String toString() {
            return words;
        }
    }

    public WriteForm {
        parameters = List.copyOf(parameters);
    }
}
