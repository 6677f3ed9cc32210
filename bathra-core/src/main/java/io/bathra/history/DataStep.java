package io.bathra.history;

import io.bathra.question.Term;
import io.bathra.schema.Layout;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** A step that changes rows, or anything that no other step can say. */
public sealed interface DataStep extends SchemaStep {
    /** The word for statements that every product takes. */
    String ANY = "any";

    /** Statements by the names of products, or by {@link #ANY}. */
    Map<String, String> sql();

    @Override
    default Layout after(Layout before) {
        return before;
    }

    /**
     * Rows that have nothing yet get values, some at a time.
     *
     * @param term what they get, of other fields of the row; null where SQL says it
     * @param portions how many rows at a time; 0 for all at once
     */
    record Backfill(String sheet, String field, @Nullable Term term, Map<String, String> sql, int portions)
            implements DataStep {
        public Backfill {
            sql = Map.copyOf(sql);
        }

        @Override
        public Layout after(Layout before) {
            Look.field(Look.sheet(before, sheet), field);
            return before;
        }

        @Override
        public String title() {
            return "backfill " + sheet + "." + field;
        }
    }

    /** Statements as they are. */
    record Sql(String words, Map<String, String> sql) implements DataStep {
        public Sql {
            sql = Map.copyOf(sql);
        }

        @Override
        public String title() {
            return words;
        }
    }
}
