package io.bathra.sql;

import java.util.List;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;

/**
 * How the rows of one step are given to the database.
 *
 * @param binding how values meet placeholders
 * @param chunk the greatest number of rows of one statement
 * @param parameters what is behind each placeholder of one row, in order
 * @param sql the statement for a number of rows
 * @param present what becomes of a row that is there already
 * @param otherwise the form for a driver that cannot do this one; null where each can
 */
public record WriteForm(
        Binding binding,
        int chunk,
        List<Parameter> parameters,
        IntFunction<String> sql,
        Present present,
        @Nullable WriteForm otherwise) {
    /** What becomes of a row that is there already. */
    public enum Present {
        /** It is an error. */
        FAILS,
        /** The statement leaves it as it is. */
        SKIPPED,
        /** The same, unless somebody else inserts it at that moment: then the statement has to be repeated. */
        SKIPPED_WHEN_REPEATED,
        /** It has to be looked up before; one that somebody else inserts at that moment is left as it is. */
        LOOKED_UP
    }

    /** A form in which a row that is there already is an error. */
    WriteForm(Binding binding, int chunk, List<Parameter> parameters, IntFunction<String> sql) {
        this(binding, chunk, parameters, sql, Present.FAILS, null);
    }

    /** A form that every driver can do. */
    WriteForm(Binding binding, int chunk, List<Parameter> parameters, IntFunction<String> sql, Present present) {
        this(binding, chunk, parameters, sql, present, null);
    }

    /** How values meet placeholders. */
    public enum Binding {
        /** The statement is executed for each row, as a JDBC batch. */
        BATCH("batch"),
        /** The placeholders are repeated for each row. */
        MULTI_ROW("multi-row"),
        /** Each placeholder takes an array with the values of all rows. */
        ARRAYS("arrays"),
        /** The rows follow the statement, in a protocol of the driver's own. */
        COPY("copy");

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

    /** The table that it writes to. */
    public String table() {
        return parameters.get(0).column().attribute().entity().table();
    }

    /** The same, which keeps the text that it has given last. */
    WriteForm remembering() {
        return new WriteForm(binding, chunk, parameters, new Remembering(sql), present, otherwise);
    }

    /** A form for few rows is asked for the same text again and again. */
    private static final class Remembering implements IntFunction<String> {
        private record Text(int rows, String sql) {}

        private final IntFunction<String> made;
        private Text last = new Text(-1, ""); // a race makes it twice, and no harm

        Remembering(IntFunction<String> made) {
            this.made = made;
        }

        @Override
        public String apply(int rows) {
            Text known = last;
            if (known.rows != rows) {
                known = new Text(rows, made.apply(rows));
                last = known;
            }
            return known.sql;
        }
    }
}
