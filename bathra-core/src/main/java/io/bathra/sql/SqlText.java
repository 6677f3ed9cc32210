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
        List<Param> filled = new ArrayList<>(params.size());
        for (Param param : params) {
            if (param instanceof ArrayValue array) {
                List<Object> kept = new ArrayList<>(array.values().size());
                array.values().forEach(value -> kept.add(Hole.fill(value, values)));
                filled.add(new ArrayValue(array.type(), kept));
            } else if (param instanceof Value value && value.value() != null) {
                filled.add(new Value(value.type(), Hole.fill(value.value(), values)));
            } else {
                filled.add(param);
            }
        }
        return new SqlText(sql, filled, holding, plain);
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
