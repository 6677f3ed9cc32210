package io.bathra.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.Collections;
import java.util.Map;
import java.util.WeakHashMap;

/** The levels of isolation of sessions, each asked for once. */
final class Levels {
    private final Map<Connection, Integer> known = Collections.synchronizedMap(new WeakHashMap<>());

    /**
     * The level in which transactions of a session begin, by JDBC's number.
     *
     * @param session the driver's own connection, which is the same whatever pool gives it out
     */
    int of(Connection session) throws SQLException {
        Integer level = known.get(session);
        if (level == null) {
            level = session.getTransactionIsolation();
            known.put(session, level);
        }
        return level;
    }
}
