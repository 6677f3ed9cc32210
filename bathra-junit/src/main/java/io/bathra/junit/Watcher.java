package io.bathra.junit;

import java.sql.Connection;
import java.sql.SQLException;
import org.jspecify.annotations.Nullable;

/** Stands between a program and its database. */
@FunctionalInterface
interface Watcher {
    /** Does what was asked. */
    interface Going {
        @Nullable
        Object on() throws SQLException;
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
