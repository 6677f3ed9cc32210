package io.bathra.jdbc;

import io.bathra.jdbc.Recorder.Execution;
import io.bathra.jdbc.Transaction.RowHandler;
import io.bathra.sql.SqlText;
import io.bathra.trace.Executed.Kind;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Executes statements in a transaction: binds their values, notes what happened, translates what goes wrong. */
final class Statements {
    /** So many sets of values go to the database at once. */
    private static final int PORTION = 1_000;

    private final Transaction transaction;
    private final Database database;
    private final Binding binding;

    Statements(Transaction transaction, Database database) {
        this.transaction = transaction;
        this.database = database;
        this.binding = new Binding(database);
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
        run(cause, text.sql(), Shown.of(text), null, statement -> {
            binding.all(statement, text.params());
            return handOver(statement, handler);
        });
    }

    /**
     * Runs a statement that writes whatever rows fulfil its condition.
     *
     * @return how many there were
     */
    long update(CharSequence cause, SqlText text, String table) {
        return run(cause, text.sql(), Shown.own(text.sql(), table), "set-wise", statement -> {
            transaction.markWritten();
            binding.all(statement, text.params());
            return database.update(statement);
        });
    }

    /**
     * Runs any one statement.
     *
     * @return how many rows it has written, as far as the database counts them
     */
    long execute(CharSequence cause, SqlText text) {
        return run(cause, text.sql(), Shown.of(text), null, statement -> {
            transaction.markWritten();
            binding.all(statement, text.params());
            statement.execute();
            return Math.max(0, statement.getUpdateCount());
        });
    }

    /**
     * Runs a statement of the user's for several sets of values, in portions.
     *
     * @return how many rows each has written; {@link Statement#SUCCESS_NO_INFO} where the driver does not tell
     */
    int[] executeAll(CharSequence cause, String sql, List<List<SqlText.Param>> sets) {
        List<int[]> counts = new ArrayList<>();
        run(cause, sql, Shown.plain(sql), "batch", statement -> {
            transaction.markWritten();
            int waiting = 0;
            for (List<SqlText.Param> params : sets) {
                binding.all(statement, params);
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
        Cursor cursor = new Cursor(transaction, open, cause, text, streaming)
                .open(database, statement -> binding.all(statement, text.params()));
        if (text.holding()) {
            transaction.markHolding();
        }
        return cursor;
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

    /**
     * Prepares a statement, uses it, and notes what happened.
     *
     * @param path the word for the way in which rows go to the database; null for none
     */
    @SuppressWarnings("try") // the limit is there to end with the statement
    long run(CharSequence cause, String sql, Shown shown, @Nullable String path, Use use) {
        Connection open = transaction.open();
        Execution execution = transaction.begin(Kind.STATEMENT, cause, shown, path);
        try (PreparedStatement statement = open.prepareStatement(sql);
                Limits.Running limit = transaction.limits().on(statement)) {
            long rows = use.apply(statement);
            transaction.ended(execution, rows);
            return rows;
        } catch (SQLException e) {
            throw execution.failed(transaction.translate(e, shown));
        } catch (RuntimeException | Error e) {
            execution.failed(e);
            throw e;
        }
    }
}
