package io.bathra.jdbc;

import java.sql.Connection;
import java.sql.SQLException;

/** The time limits of a connection while a transaction is on it. */
interface Limits {
    Limits NONE = connection -> {};

    /** A statement begins. */
    default void start() {}

    /** Gives the connection the limits that it came with. */
    void lift(Connection connection) throws SQLException;
}
