package io.bathra.jdbc;

import io.bathra.catalogue.DriverWords;
import io.bathra.error.BathraException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.DatabaseUnreachableException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Objects;
import java.util.function.Consumer;
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

    /** Somebody else's connection, which is neither set up nor closed; null for one of our own. */
    private final @Nullable Connection joined;

    /** Servers that reading transactions may go to; null for none. */
    private final @Nullable Standbys standbys;

    /** Is told why a transaction that a standby would do for goes to the primary. */
    private final Consumer<String> told;

    /** The standby that the connection leads to; null for the primary, and while there is no connection. */
    private Standbys.@Nullable Taken standby;

    private @Nullable AsItCame used;
    private Limits limits = Limits.NONE;

    Loan(
            DataSource source,
            Database database,
            ConstraintCatalogue constraints,
            Settings settings,
            @Nullable Connection joined,
            @Nullable Standbys standbys,
            Consumer<String> told) {
        this.source = source;
        this.database = database;
        this.constraints = constraints;
        this.settings = settings;
        this.joined = joined;
        this.standbys = joined == null ? standbys : null;
        this.told = told;
    }

    /** What limits the time of statements. */
    Limits limits() {
        return limits;
    }

    /** The connection, on which nothing has begun but what was under way there before. */
    Connection take() {
        if (joined != null) {
            return visit(joined);
        }
        AsItCame fresh = null;
        try {
            Connection connection = connection();
            fresh = new AsItCame(connection);
            database.ready(fresh);
            if (database.isUnderWay(connection)) {
                throw underWay();
            }
            if (!settings.begins()) {
                database.connect(fresh);
            }
            used = fresh;
            return connection;
        } catch (SQLException e) {
            giveBack(fresh);
            throw failure(e, fresh != null);
        } catch (RuntimeException e) {
            giveBack(fresh);
            throw e;
        }
    }

    /** One to a standby, where there is one that suits; else one to the server that takes writes. */
    private Connection connection() throws SQLException {
        Standbys.Taken taken = standbys != null && settings.suitsStandby()
                ? standbys.take(database, settings.position(), settings.positionMillis(), told)
                : null;
        standby = taken;
        return taken != null ? taken.connection() : source.getConnection();
    }

    /** The exception of ours for an error of a statement; a standby that is lost is left alone for a while. */
    BathraException translate(SQLException e, Shown statement) {
        BathraException translated = database.translate(e, statement, constraints);
        if (standby != null && translated instanceof ConnectionLostException) {
            standby.leaveAlone().run();
        }
        return translated;
    }

    /** How far the server had come that has committed just now; null where nobody wants to know, or can tell. */
    @Nullable
    String position() {
        AsItCame connection = used;
        if (standbys == null || connection == null) {
            return null;
        }
        try {
            String position = database.position(connection.connection());
            if (!connection.connection().getAutoCommit()) {
                connection.connection().rollback();
            }
            return position;
        } catch (SQLException e) {
            LOG.debug("the server does not tell how far it has come", e);
            return null;
        }
    }

    /**
     * Begins a transaction on the connection.
     *
     * @return the statements that are still to be executed for that, before any other
     */
    List<String> begin() {
        AsItCame connection = Objects.requireNonNull(used);
        try {
            Database.Begun begun = database.begin(connection, settings);
            limits = begun.limits();
            return begun.opening();
        } catch (SQLException e) {
            giveBack(true);
            throw failure(e, true);
        } catch (RuntimeException e) {
            giveBack(true);
            throw e;
        }
    }

    /**
     * Readies the connection for a query before anything begins; tells whether it may be asked without a transaction.
     */
    boolean readsAlone() throws SQLException {
        boolean waits = settings.upToDate() && database.isOneOfSeveral();
        return !waits
                && settings.isOrdinary()
                && database.readsAlone(Objects.requireNonNull(used), settings.readOnly());
    }

    /** The refusal of a connection on which somebody else has work that is neither committed nor rolled back. */
    static BathraException underWay() {
        return new BathraException("the data source hands out a connection on which somebody's transaction is under"
                + " way, and a unit that begins there would commit it; work in that transaction with"
                + " store.join(connection), or give the store a data source whose connections have none");
    }

    private BathraException failure(SQLException e, boolean connected) {
        if (connected && database.failure(e) == Failure.LOCK_TIMEOUT) {
            return translate(e, Shown.own("begin", null));
        }
        return Unreachable.of(e);
    }

    /** Somebody else's connection, to which nothing is sent. */
    private Connection visit(Connection hosts) {
        try {
            if (hosts.getAutoCommit()) {
                throw new BathraException(
                        "the connection commits each statement by itself, so there is no transaction to"
                                + " join; call setAutoCommit(false) first");
            }
            used = new AsItCame(hosts);
            if (settings.statementMillis() > 0) {
                limits = database.limitGuest(used, settings.statementMillis());
            }
            return hosts;
        } catch (SQLException e) {
            throw new DatabaseUnreachableException(
                    "the connection that is to be joined cannot be used: " + DriverWords.of(e), e);
        }
    }

    /**
     * Gives the connection back, as it came.
     *
     * @param ended whether the transaction has ended, so that what follows does not belong to it
     */
    void giveBack(boolean ended) {
        AsItCame going = used;
        used = null;
        standby = null;
        limits = Limits.NONE;
        if (going != null && !ended && joined == null) {
            abort(going.connection());
        }
        giveBack(going);
    }

    private void giveBack(@Nullable AsItCame going) {
        if (going != null) {
            going.restore();
            if (joined == null) {
                close(going.connection());
            }
        }
    }

    /** Whatever is open is rolled back by the database when the connection is gone; to go on would commit it. */
    private void abort(Connection connection) {
        try {
            if (!connection.isClosed() && mayBeUnderWay(connection)) {
                connection.abort(Runnable::run);
            }
        } catch (SQLException e) {
            LOG.debug("a connection with an open transaction cannot be aborted", e);
        }
    }

    /** Where nobody can tell, it may be. */
    private boolean mayBeUnderWay(Connection connection) {
        try {
            return database.isUnderWay(connection);
        } catch (SQLException e) {
            return true;
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
