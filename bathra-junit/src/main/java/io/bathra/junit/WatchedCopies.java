package io.bathra.junit;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.SQLException;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;
import org.postgresql.copy.CopyManager;
import org.postgresql.core.BaseConnection;

/** Connections of PostgreSQL's driver that tell somebody of rows which are sent behind a statement. */
final class WatchedCopies {
    private WatchedCopies() {}

    /** Somebody who is told. */
    interface Told {
        void of(String sql) throws SQLException;
    }

    static Object of(Object connection, Told told) {
        return Proxy.newProxyInstance(
                WatchedCopies.class.getClassLoader(),
                new Class<?>[] {PGConnection.class},
                (proxy, method, arguments) -> {
                    if (method.getName().equals("getCopyAPI")) {
                        return new CopyManager((BaseConnection) connection) {
                            @Override
                            public CopyIn copyIn(String sql) throws SQLException {
                                told.of(sql);
                                return super.copyIn(sql);
                            }
                        };
                    }
                    try {
                        return method.invoke(connection, arguments);
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    }
                });
    }
}
