package io.bathra.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import org.sqlite.ProgressHandler;
import org.sqlite.SQLiteConnection;

/** Gives up statements that take too long; SQLite has no limit of its own, but asks now and then whether to go on. */
final class SqliteStopwatch extends ProgressHandler {
    /** So many steps of SQLite's machine take well below a millisecond. */
    private static final int STEPS = 10_000;

    private final SQLiteConnection connection;
    private final long nanos;
    private boolean running;
    private long deadline;

    private SqliteStopwatch(SQLiteConnection connection, long millis) {
        this.connection = connection;
        this.nanos = millis * 1_000_000;
    }

    static SqliteStopwatch on(Connection connection, long millis) throws SQLException {
        SQLiteConnection own = connection.unwrap(SQLiteConnection.class);
        SqliteStopwatch stopwatch = new SqliteStopwatch(own, millis);
        setHandler(own, STEPS, stopwatch);
        return stopwatch;
    }

    /** A statement begins; what comes after its end takes as long as it takes. */
    Limits.Running start() {
        deadline = System.nanoTime() + nanos;
        running = true;
        return () -> running = false;
    }

    void remove() throws SQLException {
        clearHandler(connection);
    }

    @Override
    protected int progress() {
        return running && System.nanoTime() - deadline > 0 ? 1 : 0;
    }
}
