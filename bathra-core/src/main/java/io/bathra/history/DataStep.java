package io.bathra.history;

import io.bathra.question.Term;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.Collections;
import java.util.LinkedHashMap;
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

    /**
     * Values move between an inlined value and an entity of its own, whose keys are those of the rows that lead there.
     *
     * @param sheet the sheet with the inlined value, and with the link
     * @param link the link that leads to the entity
     * @param out whether they move out of the inlined value, or into it
     * @param fields the fields of the sheet, with those of the entity
     */
    record Move(String sheet, String link, boolean out, Map<String, String> fields) implements DataStep {
        public Move {
            fields = Collections.unmodifiableMap(new LinkedHashMap<>(fields));
        }

        @Override
        public Map<String, String> sql() {
            return Map.of();
        }

        @Override
        public Layout after(Layout before) {
            Sheet owner = Look.sheet(before, sheet);
            Sheet target = target(before);
            if (owner.keyColumns().size() != 1 || target.keyColumns().size() != 1) {
                throw new StepMisfit("the keys of " + owner.name() + " and " + target.name()
                        + " must be one column each, since rows get the same keys; move such values by an sql step");
            }
            fields.forEach((field, other) -> {
                Look.field(owner, field);
                Look.field(target, other);
            });
            return before;
        }

        /** The entity. */
        public Sheet target(Layout layout) {
            if (Look.field(Look.sheet(layout, sheet), link) instanceof Field.OfLink way) {
                return Look.sheet(layout, way.to());
            }
            throw new StepMisfit(sheet + "." + link + " is no link");
        }

        @Override
        public String title() {
            return out
                    ? "move values of " + sheet + " to where " + link + " leads"
                    : "move values from where " + link + " leads to " + sheet;
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
