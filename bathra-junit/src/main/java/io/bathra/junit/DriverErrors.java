package io.bathra.junit;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;
import java.util.Locale;
import java.util.concurrent.TimeUnit;
import org.sqlite.SQLiteErrorCode;
import org.sqlite.SQLiteException;

/**
 * Failures as the database at hand reports them. Servers raise them themselves, so that the transaction is in the state
 * that belongs to the failure; the others' drivers have them made, and what goes with them is done by hand.
 */
enum DriverErrors {
    UNIQUE_VIOLATION("23505", 23505, 1062, "23000", false),
    DEADLOCK("40P01", 40001, 1213, "40001", true),
    SERIALIZATION_FAILURE("40001", 40001, 1020, "HY000", true),
    LOCK_TIMEOUT("55P03", 50200, 1205, "HY000", false);

    private final String postgres;
    private final int h2;
    private final int mariaDb;
    private final String mariaDbState;
    private final boolean ends;

    /** @param ends whether the transaction is gone on databases that roll back by themselves */
    DriverErrors(String postgres, int h2, int mariaDb, String mariaDbState, boolean ends) {
        this.postgres = postgres;
        this.h2 = h2;
        this.mariaDb = mariaDb;
        this.mariaDbState = mariaDbState;
        this.ends = ends;
    }

    private String words() {
        return name().toLowerCase(Locale.ROOT).replace('_', ' ') + ", as the test has asked for";
    }

    /** Fails. */
    void raise(Connection connection, Watcher.Going going) throws SQLException {
        String product = connection.getMetaData().getDatabaseProductName();
        switch (product) {
            case "PostgreSQL" ->
                going.failing(
                        connection,
                        "do $$ begin raise exception using errcode = '" + postgres + "', message = '" + words()
                                + "'; end $$");
            case "MariaDB" -> {
                if (ends) {
                    connection.rollback();
                }
                going.failing(
                        connection,
                        "signal sqlstate '" + mariaDbState + "' set mysql_errno = " + mariaDb + ", message_text = '"
                                + words() + "'");
            }
            case "SQLite" -> throw Sqlite.error(this, words());
            default -> {
                if (ends && !connection.getAutoCommit()) {
                    connection.rollback();
                }
                String state = this == LOCK_TIMEOUT ? "HYT00" : String.valueOf(h2);
                throw new SQLException(words(), state, h2);
            }
        }
    }

    /** Really cuts a connection. Tells whether the driver finds out by itself what has happened. */
    static boolean cut(Connection connection) throws SQLException {
        String product = connection.getMetaData().getDatabaseProductName();
        if (product.equals("PostgreSQL") || product.equals("MariaDB")) {
            connection.abort(Runnable::run);
            return true;
        }
        connection.close();
        return !product.equals("SQLite");
    }

    /** What a driver says of a connection that is gone, where it says nothing by itself. */
    static SQLException lost() {
        return new SQLTransientConnectionException("the connection is closed, as the test has asked for", "08006");
    }

    static void sleep(long millis) {
        try {
            TimeUnit.MILLISECONDS.sleep(millis);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** Apart, since the driver may not be there. */
    private static final class Sqlite {
        static SQLException error(DriverErrors error, String words) {
            SQLiteErrorCode code = switch (error) {
                case UNIQUE_VIOLATION -> SQLiteErrorCode.SQLITE_CONSTRAINT_UNIQUE;
                case SERIALIZATION_FAILURE -> SQLiteErrorCode.SQLITE_BUSY_SNAPSHOT;
                default -> SQLiteErrorCode.SQLITE_BUSY;
            };
            return new SQLiteException(words, code);
        }
    }
}
