package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.jdbc.Recorder.Execution;
import io.bathra.sql.Parameter;
import io.bathra.trace.Executed.Kind;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Rows that follow a statement, one after the other; until they have ended, nothing else can be done in the
 * transaction.
 */
public final class Copying implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra.sql");

    private static final String PATH = "copy";

    private final Transaction transaction;
    private final Execution execution;
    private final Database.RowSink sink;
    private boolean ended;

    Copying(
            Transaction transaction,
            Connection open,
            CharSequence cause,
            String sql,
            String table,
            List<Parameter> parameters) {
        this.transaction = transaction;
        transaction.markWritten();
        execution = transaction.begin(Kind.STATEMENT, cause, Shown.own(sql, table), PATH);
        try {
            sink = transaction.database().sink(open, sql, parameters);
        } catch (SQLException e) {
            throw execution.failed(translated(e));
        }
    }

    private BathraException translated(SQLException e) {
        return transaction.translate(e, execution.shown());
    }

    /** Sends a row, given as its values by slot. */
    public void write(@Nullable Object[] row) {
        try {
            sink.write(row);
        } catch (SQLException e) {
            throw execution.failed(translated(e));
        } catch (RuntimeException e) {
            throw execution.failed(e);
        }
    }

    /** Tells how many rows the database has taken. */
    public long end() {
        ended = true;
        try {
            long taken = sink.end();
            transaction.ended(execution, taken);
            return taken;
        } catch (SQLException e) {
            throw execution.failed(translated(e));
        }
    }

    /** Gives up what has not come to its end. */
    @Override
    public void close() {
        try {
            if (!ended) {
                execution.failed(new BathraException("the rows were not sent to their end"));
                sink.cancel();
            }
        } catch (SQLException e) {
            LOG.debug("giving up a copy failed", translated(e));
        }
    }
}
