package io.bathra.schema;

import io.bathra.question.SearchCondition;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * A check constraint.
 *
 * @param condition its paths name fields, and its values are {@link Literal}s
 * @param columns the columns of each field of the table
 */
public record Check(String name, SearchCondition condition, Map<String, List<Column>> columns) {
    public Check {
        columns = Map.copyOf(columns);
    }

    /** The columns of a field. */
    public List<Column> columnsOf(String field) {
        return Objects.requireNonNull(columns.get(field), field);
    }

    /** The fields that it speaks of, each once. */
    public List<String> fields() {
        return Sheet.fieldsOf(condition);
    }
}
