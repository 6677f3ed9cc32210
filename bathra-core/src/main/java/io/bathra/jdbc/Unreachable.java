package io.bathra.jdbc;

import io.bathra.catalogue.DriverWords;
import io.bathra.error.DatabaseUnreachableException;
import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;
import org.jspecify.annotations.Nullable;

/** What is said where a data source has no connection to give: that the database is away, or that all are in use. */
public final class Unreachable {
    private Unreachable() {}

    /** The exception of ours, with what is behind a pool's own words. */
    public static DatabaseUnreachableException of(SQLException e) {
        boolean pool = e instanceof SQLTransientConnectionException; // what pools throw when they have none to give
        SQLException behind = pool ? cause(e) : null;
        if (pool && behind == null) {
            return new DatabaseUnreachableException(
                    "no connection was free in time: " + DriverWords.of(e)
                            + "; close units of work sooner, or let the pool have more connections",
                    e);
        }
        return new DatabaseUnreachableException(
                "no connection to the database: " + DriverWords.of(behind == null ? e : behind)
                        + "; check that it runs, and the URL, user and password",
                e);
    }

    /** What kept a pool from having a connection. */
    private static @Nullable SQLException cause(SQLException e) {
        SQLException found = null;
        for (Throwable next = e.getCause(); next != null; next = next.getCause()) {
            found = next instanceof SQLException cause ? cause : found;
        }
        return found;
    }
}
