package io.bathra.jdbc;

import io.bathra.sql.Parameter;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.StatementListener.Ending;
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
    private final CharSequence cause;
    private final Shown shown;
    private final long start = System.nanoTime();
    private final @Nullable Ending ending;
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
        this.cause = cause;
        this.shown = Shown.own(sql, table);
        transaction.markWritten();
        ending = transaction.started(Kind.STATEMENT, cause, shown, PATH, start);
        try {
            sink = transaction.database().sink(open, sql, parameters);
        } catch (SQLException e) {
            throw translated(e);
        }
    }

    private RuntimeException translated(SQLException e) {
        return transaction.failed(Kind.STATEMENT, cause, shown, PATH, start, ending, transaction.translate(e, shown));
    }

    /** Sends a row, given as its values by slot. */
    public void write(@Nullable Object[] row) {
        try {
            sink.write(row);
        } catch (SQLException e) {
            throw translated(e);
        }
    }

    /** Tells how many rows the database has taken. */
    public long end() {
        ended = true;
        try {
            long taken = sink.end();
            transaction.ended(Kind.STATEMENT, cause, shown, PATH, taken, start, ending);
            return taken;
        } catch (SQLException e) {
            throw translated(e);
        }
    }

    /** Gives up what has not come to its end. */
    @Override
    public void close() {
        try {
            if (!ended) {
                sink.cancel();
            }
        } catch (SQLException e) {
            LOG.debug("giving up a copy failed", e);
        }
    }
}
