package io.bathra.jdbc;

import java.sql.SQLException;
import java.sql.Statement;

/** What limits the time of the statements of a transaction one by one. */
@FunctionalInterface
interface Limits {
    Limits NONE = statement -> Running.UNLIMITED;

    /** Limits that stand in the text of each statement; none for an empty text. */
    static Limits said(String before) {
        return before.isEmpty()
                ? NONE
                : new Limits() {
                    @Override
                    public Running on(Statement statement) {
                        return Running.UNLIMITED;
                    }

                    @Override
                    public String within(String sql) {
                        return before + sql;
                    }
                };
    }

    /** The limit of one statement, from its beginning until it is closed. */
    interface Running extends AutoCloseable {
        Running UNLIMITED = () -> {};

        @Override
        void close() throws SQLException;
    }

    /** A statement begins. */
    Running on(Statement statement) throws SQLException;

    /** The text of a statement as it is sent, which may say the limit. */
    default String within(String sql) {
        return sql;
    }
}
