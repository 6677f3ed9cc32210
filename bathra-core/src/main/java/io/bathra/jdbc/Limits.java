package io.bathra.jdbc;

import java.sql.SQLException;
import java.sql.Statement;

/** What limits the time of the statements of a transaction one by one. */
@FunctionalInterface
interface Limits {
    Limits NONE = statement -> Running.UNLIMITED;

    /** The limit of one statement, from its beginning until it is closed. */
    interface Running extends AutoCloseable {
        Running UNLIMITED = () -> {};

        @Override
        void close() throws SQLException;
    }

    /** A statement begins. */
    Running on(Statement statement) throws SQLException;
}
