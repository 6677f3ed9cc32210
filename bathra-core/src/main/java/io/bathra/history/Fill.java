package io.bathra.history;

import io.bathra.question.Term;
import java.util.Map;

/** What rows that are there get in a column. */
public sealed interface Fill {
    /** The same in all rows; a literal. */
    record OfValue(Object literal) implements Fill {}

    /** What other fields of the row give. */
    record OfTerm(Term term) implements Fill {}

    /** An SQL expression, by the name of a product, or by {@code any}. */
    record OfSql(Map<String, String> expressions) implements Fill {
        public OfSql {
            expressions = Map.copyOf(expressions);
        }
    }
}
