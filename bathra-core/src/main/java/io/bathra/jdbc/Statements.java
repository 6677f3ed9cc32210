package io.bathra.jdbc;

import io.bathra.jdbc.Recorder.Execution;
import io.bathra.jdbc.Transaction.RowHandler;
import io.bathra.sql.SqlText;
import io.bathra.sql.Together;
import io.bathra.trace.Executed.Kind;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
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
        if (text.plain()) {
            run(cause, text.sql(), Shown.of(text), null, statement -> {
                binding.all(statement, text.params(), 1);
                ResultSet answer = statement.executeQuery();
                transaction.markAsked(text);
                return handOver(answer, handler);
            });
            return;
        }
        Connection open =
                text.holding() ? transaction.line().begin() : transaction.line().reading();
        Waiting.Going before = transaction.line().carried(text.sql());
        String sql = before == null
                ? text.sql()
                : Objects.requireNonNull(transaction.line().together()).reading(before.sql(), List.of(text.sql()));
        Execution execution = transaction.begin(Kind.STATEMENT, cause, Shown.of(text), null);
        use(open, sql, execution, before, statement -> {
            binding.all(statement, text.params(), 1);
            return before == null ? handOver(statement, handler) : handOverLast(statement, handler);
        });
    }

    /** Asks several things in one trip, none of which holds rows; tells whether that can be. */
    boolean queryTogether(List<Asked> all) {
        Connection open = transaction.line().reading();
        Together together = transaction.line().together();
        if (together == null) {
            return false;
        }
        transaction.trace().beginTogether();
        Waiting.Going before = transaction.line().waiting().go();
        List<String> queries = new ArrayList<>(all.size());
        List<Execution> executions = new ArrayList<>(all.size());
        for (Asked one : all) {
            queries.add(one.text().sql());
            executions.add(transaction.begin(Kind.STATEMENT, one.cause(), Shown.of(one.text()), null));
        }
        transaction.trace().allHaveBegun();
        long[] rows = new long[all.size()];
        try {
            readTogether(open, together.reading(before.sql(), queries), all, rows);
        } catch (SQLException e) {
            Shown first = Shown.plain(executions.get(0).shown().sql());
            throw transaction.line().failed(before, executions, transaction.translate(e, first));
        } catch (RuntimeException | Error e) {
            transaction.line().failed(before, executions, e);
            throw e;
        }
        before.ended();
        for (int i = 0; i < rows.length; i++) {
            transaction.ended(executions.get(i), rows[i], i > 0);
        }
        return true;
    }

    @SuppressWarnings("try") // the limit is there to end with the statement
    private void readTogether(Connection open, String sql, List<Asked> all, long[] rows) throws SQLException {
        try (PreparedStatement statement =
                        open.prepareStatement(transaction.limits().within(sql));
                Limits.Running limit = transaction.running(statement)) {
            int index = 1;
            for (Asked one : all) {
                index = binding.all(statement, one.text().params(), index);
            }
            int next = 0;
            boolean answered = statement.execute();
            while (answered || statement.getUpdateCount() >= 0) {
                if (answered) {
                    rows[next] = handOver(
                            Objects.requireNonNull(statement.getResultSet()),
                            all.get(next).handler());
                    next++;
                }
                answered = statement.getMoreResults();
            }
            transaction.refuseStopped(Shown.plain(sql));
        }
    }

    /**
     * Runs a statement that writes whatever rows fulfil its condition.
     *
     * @return how many there were
     */
    long update(CharSequence cause, SqlText text, String table) {
        return run(cause, text.sql(), Shown.own(text.sql(), table), "set-wise", statement -> {
            transaction.markWritten();
            binding.all(statement, text.params(), 1);
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
            binding.all(statement, text.params(), 1);
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
                binding.all(statement, params, 1);
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
                .open(database, statement -> binding.all(statement, text.params(), 1));
        if (text.holding()) {
            transaction.markHolding();
        }
        return cursor;
    }

    static long handOver(PreparedStatement statement, RowHandler handler) throws SQLException {
        return handOver(statement.executeQuery(), handler);
    }

    /** The same for a query behind others that answer with nothing. */
    private static long handOverLast(PreparedStatement statement, RowHandler handler) throws SQLException {
        boolean answered = statement.execute();
        while (!answered && statement.getUpdateCount() >= 0) {
            answered = statement.getMoreResults();
        }
        return handOver(Objects.requireNonNull(statement.getResultSet(), "no answer"), handler);
    }

    static long handOver(ResultSet answer, RowHandler handler) throws SQLException {
        long rows = 0;
        try (ResultSet result = answer) {
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
    long run(CharSequence cause, String sql, Shown shown, @Nullable String path, Use use) {
        Connection open = transaction.open();
        return use(open, sql, transaction.begin(Kind.STATEMENT, cause, shown, path), null, use);
    }

    /**
     * Does the same with a statement that has begun.
     *
     * @param before what is sent before it in the same trip; null for nothing
     */
    @SuppressWarnings("try") // the limit is there to end with the statement
    private long use(Connection open, String sql, Execution execution, Waiting.@Nullable Going before, Use use) {
        transaction.trace().allHaveBegun();
        try (PreparedStatement statement =
                        open.prepareStatement(transaction.limits().within(sql));
                Limits.Running limit = transaction.running(statement)) {
            long rows = use.apply(statement);
            transaction.refuseStopped(execution.shown());
            if (before != null) {
                before.ended();
            }
            transaction.ended(execution, rows);
            return rows;
        } catch (SQLException e) {
            throw failed(execution, before, transaction.translate(e, execution.shown()));
        } catch (RuntimeException | Error e) {
            failed(execution, before, e);
            throw e;
        }
    }

    private <T extends Throwable> T failed(Execution execution, Waiting.@Nullable Going before, T failure) {
        return before == null
                ? execution.failed(failure)
                : transaction.line().failed(before, List.of(execution), failure);
    }
}
