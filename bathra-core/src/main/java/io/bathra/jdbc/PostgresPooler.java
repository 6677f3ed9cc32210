package io.bathra.jdbc;

import io.bathra.error.BathraException;
import java.sql.SQLException;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.postgresql.core.BaseConnection;

/**
 * A pooler that may stand between a program and its server, and give each transaction to any of a few sessions. The
 * driver prepares statements in a session by names of its own, COMMIT among them: in another session the same name is
 * another statement, or none, and what was acknowledged may never have been committed. So the driver has to prepare
 * nothing there.
 */
final class PostgresPooler {
    /** The SQLStates of a prepared statement that is there already, and of one that is not there. */
    private static final Set<String> OF_ANOTHER_SESSION = Set.of("42P05", "26000");

    private static final String CURE = "say so with store.throughPooler(), or prepareThreshold=0 in the URL";

    /** Whether the server's number of the session is not the one that the driver knows. */
    private final boolean seen;

    private final boolean told;
    private volatile @Nullable String broken;

    private PostgresPooler(boolean seen, boolean told) {
        this.seen = seen;
        this.told = told;
    }

    /** None that anybody knows of. */
    static PostgresPooler none() {
        return new PostgresPooler(false, false);
    }

    /** One where the server calls the session otherwise than whoever has answered the driver. */
    static PostgresPooler seen(int numberOfDriver, int numberOfServer) {
        return new PostgresPooler(numberOfDriver != numberOfServer, false);
    }

    /** One of which somebody has told. */
    static PostgresPooler told() {
        return new PostgresPooler(false, true);
    }

    /** Whether there is one, as far as anybody has told or seen. */
    boolean isThere() {
        return told || seen;
    }

    /** Readies a connection, or refuses to work with it. */
    void ready(AsItCame connection, @Nullable BaseConnection own) throws SQLException {
        String failed = broken;
        if (failed != null) {
            throw new BathraException("this store does no more work, since " + failed);
        }
        if (own == null) {
            if (told) {
                throw new BathraException(
                        "the data source gives no connections of the driver, so that it cannot be told to"
                                + " prepare nothing for a pooler; leave throughPooler() out, and set prepareThreshold=0 in the URL");
            }
            return;
        }
        int threshold = own.getPrepareThreshold();
        if (threshold == 0) {
            return;
        }
        if (told) {
            own.setPrepareThreshold(0);
            connection.atLast(() -> own.setPrepareThreshold(threshold));
        } else if (seen) {
            throw new BathraException("a pooler stands before the server, and where it gives transactions to any of its"
                    + " sessions, the driver's prepared statements lose work without a word; " + CURE);
        }
    }

    /** Words for an error that only a pooler of which nobody has told can have made; null for any other. */
    @Nullable
    String explained(SQLException e) {
        if (told || !OF_ANOTHER_SESSION.contains(String.valueOf(e.getSQLState()))) {
            return null;
        }
        broken = "a statement that the driver had prepared was not the one that the session knows by its name ("
                + e.getSQLState() + "): a pooler has given the transaction to another session, and work may be lost; "
                + CURE;
        return broken;
    }
}
