package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.error.DatabaseUnreachableException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** A connection for the time of a transaction: taken, set up as asked for, and given back as it came. */
final class Loan {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra.sql");

    private final DataSource source;
    private final Database database;
    private final ConstraintCatalogue constraints;
    private final Settings settings;
    private final boolean hasLevel;

    /** Somebody else's connection, which is neither set up nor closed; null for one of our own. */
    private final @Nullable Connection joined;

    private @Nullable Connection taken;
    private Limits limits = Limits.NONE;

    /** The level of isolation that the connection came with. */
    private int levelBefore;

    Loan(
            DataSource source,
            Database database,
            ConstraintCatalogue constraints,
            Settings settings,
            @Nullable Connection joined) {
        this.source = source;
        this.database = database;
        this.constraints = constraints;
        this.settings = settings;
        this.joined = joined;
        this.hasLevel = database.hasIsolationLevels() && settings.isolation() != Connection.TRANSACTION_NONE;
    }

    /** What limits the time of statements. */
    Limits limits() {
        return limits;
    }

    /** The connection, in a transaction. */
    Connection take() {
        if (joined != null) {
            return visit(joined);
        }
        Connection fresh = null;
        try {
            fresh = source.getConnection();
            if (hasLevel) {
                levelBefore = fresh.getTransactionIsolation();
                fresh.setTransactionIsolation(settings.isolation());
            }
            limits = database.begin(fresh, settings);
            taken = fresh;
            return fresh;
        } catch (SQLException e) {
            if (fresh != null) {
                restore(fresh);
                close(fresh);
            }
            throw failure(e, fresh != null);
        }
    }

    private BathraException failure(SQLException e, boolean connected) {
        if (connected && database.failure(e) == Failure.LOCK_TIMEOUT) {
            return database.translate(e, Shown.own("begin", null), constraints);
        }
        boolean pool = e instanceof SQLTransientConnectionException; // what pools throw when they have none to give
        SQLException behind = pool ? cause(e) : null;
        if (pool && behind == null) {
            return new DatabaseUnreachableException(
                    "no connection was free in time: " + Database.firstLine(e)
                            + "; close units of work sooner, or let the pool have more connections",
                    e);
        }
        return new DatabaseUnreachableException(
                "no connection to the database: " + Database.firstLine(behind == null ? e : behind)
                        + "; check that it runs, and the URL, user and password",
                e);
    }

    /** What kept a pool from having a connection: the database is away, and all of its connections are not in use. */
    private static @Nullable SQLException cause(SQLException e) {
        SQLException found = null;
        for (Throwable next = e.getCause(); next != null; next = next.getCause()) {
            found = next instanceof SQLException cause ? cause : found;
        }
        return found;
    }

    /** Somebody else's connection, to which nothing is sent. */
    private Connection visit(Connection hosts) {
        try {
            if (hosts.getAutoCommit()) {
                throw new BathraException(
                        "the connection commits each statement by itself, so there is no transaction to"
                                + " join; call setAutoCommit(false) first");
            }
            if (settings.statementMillis() > 0) {
                limits = database.limitGuest(hosts, settings.statementMillis());
            }
            return hosts;
        } catch (SQLException e) {
            throw new DatabaseUnreachableException(
                    "the connection that is to be joined cannot be used: " + Database.firstLine(e), e);
        }
    }

    /** Gives the connection back, as it came. */
    void giveBack() {
        Connection used = taken;
        taken = null;
        if (used != null) {
            restore(used);
            close(used);
        } else if (joined != null) {
            lift(joined);
        }
    }

    private void lift(Connection used) {
        try {
            if (!used.isClosed()) {
                limits.lift(used);
            }
        } catch (SQLException e) {
            LOG.debug("a connection keeps a limit", e);
        }
        limits = Limits.NONE;
    }

    private void restore(Connection used) {
        try {
            if (!used.isClosed()) {
                limits.lift(used);
                limits = Limits.NONE;
                database.end(used, settings.readOnly());
                if (hasLevel) {
                    used.setTransactionIsolation(levelBefore);
                }
            }
        } catch (SQLException e) {
            LOG.debug("a connection is not given back as it came", e);
        }
    }

    private static void close(Connection used) {
        try {
            used.close();
        } catch (SQLException e) {
            LOG.debug("closing a connection failed", e);
        }
    }
}
