package io.bathra.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;

/** The time limits of a connection while a transaction is on it. */
interface Limits {
    Limits NONE = connection -> {};

    /** The limit of one statement, from its beginning until it is closed. */
    interface Running extends AutoCloseable {
        Running UNLIMITED = () -> {};

        @Override
        void close() throws SQLException;
    }

    /** A statement begins. */
    default Running on(Statement statement) throws SQLException {
        return Running.UNLIMITED;
    }

    /** Gives the connection the limits that it came with. */
    void lift(Connection connection) throws SQLException;
}
