package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.sql.SqlText;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.StatementListener.Ending;
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
    private final CharSequence cause;
    private final SqlText text;
    private final boolean streaming;
    private final Shown shown;
    private final long start = System.nanoTime();
    private final @Nullable Ending ending;
    private @Nullable PreparedStatement statement;
    private Limits.@Nullable Running limit;
    private @Nullable ResultSet result;
    private long rows;

    /** Why reading has failed; null while it has not. */
    private @Nullable BathraException failure;

    Cursor(Transaction transaction, Connection connection, CharSequence cause, SqlText text, boolean streaming) {
        this.transaction = transaction;
        this.connection = connection;
        this.cause = cause;
        this.text = text;
        this.streaming = streaming;
        this.shown = Shown.of(text);
        this.ending = transaction.started(Kind.STATEMENT, cause, shown, null, start);
    }

    /** Executes the query. */
    Cursor open(Database database, Binder binder) throws SQLException {
        try {
            if (streaming) {
                database.beginStream(connection);
            }
            PreparedStatement prepared = connection.prepareStatement(text.sql());
            statement = prepared;
            limit = transaction.limits().on(prepared);
            if (streaming) {
                prepared.setFetchSize(database.fetchSize());
            }
            binder.bind(prepared);
            result = prepared.executeQuery();
            return this;
        } catch (SQLException e) {
            release();
            throw transaction.failed(Kind.STATEMENT, cause, shown, null, start, ending, e);
        } catch (RuntimeException e) {
            release();
            throw transaction.failed(Kind.STATEMENT, cause, shown, null, start, ending, e);
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
            BathraException translated = transaction.translate(e, shown);
            failure = translated;
            throw translated;
        }
    }

    /** Closes the statement, and notes what was read. A second call does nothing. */
    @Override
    public void close() {
        if (statement != null) {
            release();
            if (failure == null) {
                transaction.ended(Kind.STATEMENT, cause, shown, null, rows, start, ending);
            } else {
                transaction.failed(Kind.STATEMENT, cause, shown, null, start, ending, failure);
            }
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
