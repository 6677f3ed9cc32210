package io.bathra.jdbc;

import io.bathra.jdbc.Transaction.RowHandler;
import io.bathra.sql.SqlText;
import io.bathra.trace.TraceLine.Kind;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Executes statements in a transaction: binds their values, notes what happened, translates what goes wrong. */
final class Statements {
    /** So many sets of values go to the database at once. */
    private static final int PORTION = 1_000;

    /** More placeholders in a row than a reader wants to see. */
    private static final String MANY = "?, ?, ?, ?, ?, ?, ?, ?, ?";

    private static final Pattern LONG_LIST = Pattern.compile("\\?(, \\?){8,}");

    private final Transaction transaction;
    private final Database database;

    Statements(Transaction transaction, Database database) {
        this.transaction = transaction;
        this.database = database;
    }

    /** What a prepared statement is used for; answers with the number of rows read or written. */
    @FunctionalInterface
    interface Use {
        long apply(PreparedStatement statement) throws SQLException;
    }

    /** Runs a query and hands over each row. One that fails to hold rows costs no others that are held. */
    void query(CharSequence cause, SqlText text, RowHandler handler) {
        if (text.holding()) {
            Trial.of(transaction, "hold", () -> read(cause, text, handler));
            transaction.markHolding();
        } else {
            read(cause, text, handler);
        }
    }

    private void read(CharSequence cause, SqlText text, RowHandler handler) {
        run(cause, text.sql(), null, statement -> {
            bind(statement, text);
            return handOver(statement, handler);
        });
    }

    private void bind(PreparedStatement statement, SqlText text) throws SQLException {
        int index = 1;
        for (SqlText.Param param : text.params()) {
            if (param instanceof SqlText.ArrayValue array) {
                database.bindArray(
                        statement, index++, param.type(), array.values().toArray());
            } else if (param instanceof SqlText.Value value) {
                database.bind(statement, index++, param.type(), value.value());
            }
        }
    }

    /**
     * Runs a statement that writes whatever rows fulfil its condition.
     *
     * @return how many there were
     */
    long update(CharSequence cause, SqlText text, String table) {
        return run(cause, text.sql(), shown(text.sql()), "set-wise", table, statement -> {
            transaction.markWritten();
            bind(statement, text);
            return statement.executeUpdate();
        });
    }

    /**
     * Runs any one statement.
     *
     * @return how many rows it has written, as far as the database counts them
     */
    long execute(CharSequence cause, SqlText text) {
        return run(cause, text.sql(), null, statement -> {
            transaction.markWritten();
            bind(statement, text);
            statement.execute();
            return Math.max(0, statement.getUpdateCount());
        });
    }

    /**
     * Runs a statement for several sets of values, in portions.
     *
     * @return how many rows each has written; {@link Statement#SUCCESS_NO_INFO} where the driver does not tell
     */
    int[] executeAll(CharSequence cause, String sql, List<List<SqlText.Param>> sets) {
        List<int[]> counts = new ArrayList<>();
        run(cause, sql, "batch", statement -> {
            transaction.markWritten();
            int waiting = 0;
            for (List<SqlText.Param> params : sets) {
                bind(statement, new SqlText(sql, params));
                statement.addBatch();
                if (++waiting == PORTION) {
                    counts.add(statement.executeBatch());
                    waiting = 0;
                }
            }
            if (waiting > 0) {
                counts.add(statement.executeBatch());
            }
            return sets.size();
        });
        return counts.stream().flatMapToInt(Arrays::stream).toArray();
    }

    /**
     * Opens a query whose rows are read one after the other.
     *
     * @param streaming whether there may be too many rows to hold them all
     */
    Cursor cursor(CharSequence cause, SqlText text, boolean streaming) {
        Connection open = transaction.open();
        try {
            Cursor cursor = new Cursor(transaction, open, cause, text.sql(), streaming)
                    .open(database, statement -> bind(statement, text));
            if (text.holding()) {
                transaction.markHolding();
            }
            return cursor;
        } catch (SQLException e) {
            throw transaction.translate(e, text.sql());
        }
    }

    static long handOver(PreparedStatement statement, RowHandler handler) throws SQLException {
        long rows = 0;
        try (ResultSet result = statement.executeQuery()) {
            while (result.next()) {
                handler.row(result);
                rows++;
            }
        }
        return rows;
    }

    /** Prepares a statement, uses it, and notes what happened. */
    long run(CharSequence cause, String sql, @Nullable String path, Use use) {
        return run(cause, sql, shown(sql), path, null, use);
    }

    /** A statement as it stands in trace, log and errors: one of a thousand placeholders would bury the rest. */
    static String shown(String sql) {
        return !sql.contains(MANY) ? sql : LONG_LIST.matcher(sql).replaceAll("?, … ?");
    }

    /**
     * Prepares a statement, uses it, and notes what happened.
     *
     * @param shown the statement as it stands in trace, log and errors
     * @param table the table that it writes to, for an error that does not name it
     */
    @SuppressWarnings("try") // the limit is there to end with the statement
    long run(CharSequence cause, String sql, String shown, @Nullable String path, @Nullable String table, Use use) {
        Connection open = transaction.open();
        long start = System.nanoTime();
        try (PreparedStatement statement = open.prepareStatement(sql);
                Limits.Running limit = transaction.limits().on(statement)) {
            long rows = use.apply(statement);
            transaction.note(Kind.STATEMENT, cause, shown, path, rows, start);
            return rows;
        } catch (SQLException e) {
            throw transaction.translate(e, shown, table);
        }
    }
}
