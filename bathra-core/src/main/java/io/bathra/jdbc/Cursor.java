package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.jdbc.Recorder.Execution;
import io.bathra.sql.SqlText;
import io.bathra.trace.Executed.Kind;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The rows of a query, one after the other. Closed by whoever has opened it. */
public final class Cursor implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra.sql");

    private final Transaction transaction;
    private final Connection connection;
    private final SqlText text;
    private final boolean streaming;
    private final Execution execution;
    private @Nullable PreparedStatement statement;
    private Limits.@Nullable Running limit;
    private @Nullable ResultSet result;
    private long rows;

    Cursor(Transaction transaction, Connection connection, CharSequence cause, SqlText text, boolean streaming) {
        this.transaction = transaction;
        this.connection = connection;
        this.text = text;
        this.streaming = streaming;
        this.execution = transaction.begin(Kind.STATEMENT, cause, Shown.of(text), null);
    }

    /** Executes the query. */
    Cursor open(Database database, Binder binder) {
        try {
            if (streaming) {
                database.beginStream(connection);
            }
            Limits limits = transaction.limits();
            PreparedStatement prepared = connection.prepareStatement(limits.within(text.sql()));
            statement = prepared;
            limit = transaction.running(prepared);
            if (streaming) {
                prepared.setFetchSize(database.fetchSize());
            }
            binder.bind(prepared);
            result = prepared.executeQuery();
            transaction.markAsked(text);
            transaction.refuseStopped(execution.shown());
            return this;
        } catch (SQLException e) {
            release();
            throw failed(e);
        } catch (RuntimeException e) {
            release();
            throw execution.failed(e);
        }
    }

    interface Binder {
        void bind(PreparedStatement statement) throws SQLException;
    }

    /** What something does with the current row. */
    @FunctionalInterface
    public interface Use<T extends @Nullable Object> {
        T apply(ResultSet result) throws SQLException;
    }

    /** Goes to the next row; false when there is none. */
    public boolean next() {
        boolean more = use(ResultSet::next);
        if (more) {
            rows++;
        }
        return more;
    }

    /** Does something with the current row, or before the first one with the columns. */
    public <T extends @Nullable Object> T use(Use<T> use) {
        if (result == null) {
            throw new IllegalStateException("the cursor is closed");
        }
        try {
            return use.apply(result);
        } catch (SQLException e) {
            throw failed(e);
        } catch (RuntimeException e) {
            throw execution.failed(e);
        }
    }

    private BathraException failed(SQLException e) {
        return execution.failed(transaction.translate(e, execution.shown()));
    }

    /** Closes the statement, and notes what was read. A second call does nothing. */
    @Override
    public void close() {
        if (statement != null) {
            release();
            transaction.ended(execution, rows);
        }
    }

    private void release() {
        PreparedStatement closing = statement;
        Limits.Running running = limit;
        statement = null;
        limit = null;
        result = null;
        if (running != null) {
            end(running::close);
        }
        if (closing != null) {
            end(closing::close);
        }
        if (streaming) {
            end(() -> transaction.database().endStream(connection));
        }
    }

    private interface Close {
        void close() throws SQLException;
    }

    private static void end(Close close) {
        try {
            close.close();
        } catch (SQLException e) {
            LOG.debug("ending a statement failed", e);
        }
    }
}
