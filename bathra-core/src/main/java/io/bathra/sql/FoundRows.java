package io.bathra.sql;

import io.bathra.mapping.ModelEntity;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * The rows that a question finds, for statements that change them or what leads to them.
 *
 * @param from the tables
 * @param where what is asked of them; may be empty
 * @param keys the columns of their key
 * @param params what is bound, in order
 * @param reads the entities whose tables are read
 */
public record FoundRows(
        String from, String where, List<String> keys, List<SqlText.Param> params, Set<ModelEntity<?>> reads) {
    /** The same with the values of the question in its holes. */
    FoundRows with(List<?> values) {
        return new FoundRows(
                from, where, keys, new SqlText("", params).filled(values).params(), reads);
    }

    /**
     * That columns of another row, or of the same one, hold the key of such a row.
     *
     * @param columns with the name of their table in front
     */
    String among(Dialect dialect, List<String> columns) {
        if (!dialect.expressions().looksThroughListsRowByRow()) {
            String tuple = String.join(", ", columns);
            return (columns.size() == 1 ? tuple : "(" + tuple + ")") + " in (select " + String.join(", ", keys) + from
                    + where + ")";
        }
        List<String> same = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            same.add(keys.get(i) + " = " + columns.get(i));
        }
        return "exists (select 1" + from + (where.isEmpty() ? " where " : where + " and ") + String.join(" and ", same)
                + ")";
    }
}
