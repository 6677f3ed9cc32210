package io.bathra.junit;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import org.jspecify.annotations.Nullable;

/** Stands between a program and its database. */
@FunctionalInterface
interface Watcher {
    /** Does what was asked. */
    interface Going {
        @Nullable
        Object on() throws SQLException;

        /** Does what was to be done before it in the same text. */
        default void before() throws SQLException {}

        /** Has the database fail in its place, by a statement that fails; what was to be done before it is done. */
        default void failing(Connection real, String sql) throws SQLException {
            try (Statement statement = real.createStatement()) {
                statement.execute(sql);
            }
        }
    }

    /**
     * Something is asked.
     *
     * @param real the connection behind; null where one is asked for
     * @return what {@code going.on()} answers, or something else
     */
    @Nullable
    Object around(Call call, @Nullable Connection real, Going going) throws SQLException;
}
