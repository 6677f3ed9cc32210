package io.bathra.jdbc;

import io.bathra.attr.Secret;
import io.bathra.sql.Parameter;
import io.bathra.sql.SqlText;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The last steps of values on their way to placeholders, the only ones on which secrets are open. */
final class Binding {
    private final Database database;

    Binding(Database database) {
        this.database = database;
    }

    /**
     * Binds the values of a statement.
     *
     * @return where the next one begins
     */
    int all(PreparedStatement statement, List<SqlText.Param> params, int from) throws SQLException {
        int index = from;
        for (int i = 0; i < params.size(); i++) { // no iterator: this is done for each statement
            SqlText.Param param = params.get(i);
            if (param instanceof SqlText.ArrayValue array) {
                @Nullable Object[] values = array.values().toArray();
                for (int j = 0; j < values.length; j++) {
                    values[j] = Secret.open(values[j]);
                }
                database.bindArray(statement, index++, param.type(), values);
            } else if (param instanceof SqlText.Value value) {
                database.bind(statement, index++, param.type(), Secret.open(value.value()));
            }
        }
        return index;
    }

    /**
     * Binds a row, given as its values by slot.
     *
     * @return where the next one begins
     */
    int row(PreparedStatement statement, int from, List<Parameter> parameters, @Nullable Object[] row)
            throws SQLException {
        int index = from;
        for (int i = 0; i < parameters.size(); i++) {
            Parameter parameter = parameters.get(i);
            database.bind(statement, index++, parameter.type(), Secret.open(parameter.in(row)));
        }
        return index;
    }

    /**
     * Binds rows as an array for each parameter.
     *
     * @return where the next one begins
     */
    int arrays(PreparedStatement statement, int from, List<Parameter> parameters, List<@Nullable Object[]> rows)
            throws SQLException {
        int index = from;
        for (Parameter parameter : parameters) {
            @Nullable Object[] values = new Object[rows.size()];
            for (int i = 0; i < values.length; i++) {
                values[i] = Secret.open(parameter.in(rows.get(i)));
            }
            database.bindArray(statement, index++, parameter.type(), values);
        }
        return index;
    }
}
