package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A statement and the values to bind to its placeholders, in order.
 *
 * @param holding whether a transaction that has run it, as a query, has something to lose: rows that it holds, or has
 * written
 * @param plain whether the user has written it, so that nobody knows all that it touches
 */
public record SqlText(String sql, List<Param> params, boolean holding, boolean plain) {
    public SqlText {
        params = List.copyOf(params);
    }

    /** A statement that holds nothing, unless it is executed as one that writes. */
    public SqlText(String sql, List<Param> params) {
        this(sql, params, false, false);
    }

    /** The same with a clause behind it that holds the rows; an empty one holds nothing. */
    public SqlText locking(String clause) {
        return clause.isEmpty() ? this : new SqlText(sql + clause, params, true, plain);
    }

    /** The same with a question's values where there are holes for them. */
    SqlText filled(List<?> values) {
        if (params.isEmpty()) {
            return this;
        }
        Param[] filled = new Param[params.size()];
        for (int i = 0; i < filled.length; i++) { // an array and no streams: this is done for each query
            Param param = params.get(i);
            if (param instanceof ArrayValue array) {
                List<Object> kept = new ArrayList<>(array.values().size());
                array.values().forEach(value -> kept.add(Hole.fill(value, values)));
                filled[i] = new ArrayValue(array.type(), kept);
            } else if (param instanceof Value value && value.value() instanceof Hole hole) {
                filled[i] = new Value(value.type(), hole.kept().apply(values.get(hole.index())));
            } else {
                filled[i] = param;
            }
        }
        return new SqlText(sql, List.of(filled), holding, plain);
    }

    /** What is bound to one placeholder. */
    public sealed interface Param {
        /** The type of the column that the value is compared with or written to. */
        ColumnType type();
    }

    /** One value. */
    public record Value(ColumnType type, @Nullable Object value) implements Param {}

    /** Several values in one placeholder. */
    public record ArrayValue(ColumnType type, List<?> values) implements Param {}
}
