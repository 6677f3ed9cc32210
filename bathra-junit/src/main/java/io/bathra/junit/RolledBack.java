package io.bathra.junit;

import java.lang.reflect.InvocationHandler;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.Locale;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/**
 * A data source of one connection in one transaction, which is rolled back at the end. What a program takes for
 * transactions are savepoints in it. A driver's own ways, which need a transaction of their own, are not offered.
 */
final class RolledBack {
    private final Connection connection;

    /** Where the transaction begins that the program takes for one; null outside. */
    private @Nullable Savepoint begun;

    RolledBack(DataSource real) throws SQLException {
        connection = real.getConnection();
        if (connection.getMetaData().getDatabaseProductName().equals("SQLite")) {
            execute("pragma foreign_keys = on"); // it can be switched on outside a transaction only
        }
        connection.setAutoCommit(false);
    }

    DataSource source() {
        return proxy(DataSource.class, (proxy, method, arguments) -> switch (method.getName()) {
            case "getConnection" -> lent();
            case "isWrapperFor" -> false;
            case "toString" -> "rolled back";
            default -> throw new SQLException(method.getName() + " is not offered");
        });
    }

    /** Undoes everything since the last call, or the beginning. */
    void rollBack() throws SQLException {
        begun = null;
        connection.rollback();
    }

    void close() throws SQLException {
        connection.rollback();
        connection.close();
    }

    private Connection lent() {
        boolean[] closed = new boolean[1];
        return proxy(Connection.class, (proxy, method, arguments) -> {
            switch (method.getName()) {
                case "close" -> {
                    closed[0] = true;
                    goBack();
                    begun = null;
                    return null;
                }
                case "isClosed" -> {
                    return closed[0];
                }
                case "getAutoCommit" -> {
                    return begun == null;
                }
                case "setAutoCommit" -> {
                    auto((boolean) arguments[0]);
                    return null;
                }
                case "commit" -> {
                    again();
                    return null;
                }
                case "rollback" -> {
                    if (arguments != null) {
                        return invoke(method, connection, arguments);
                    }
                    goBack();
                    return null;
                }
                case "setReadOnly", "setTransactionIsolation" -> {
                    return null; // the transaction has begun
                }
                case "isWrapperFor" -> {
                    return false;
                }
                case "createStatement" -> {
                    Object statement = invoke(method, connection, arguments);
                    return statement((Connection) proxy, statement);
                }
                default -> {
                    return invoke(method, connection, arguments);
                }
            }
        });
    }

    /** What is said about transactions in SQL is meant for the one that the program takes for one. */
    private Statement statement(Connection lent, @Nullable Object statement) {
        return proxy(Statement.class, (proxy, method, arguments) -> {
            if (method.getName().equals("getConnection")) {
                return lent;
            }
            if (method.getName().startsWith("execute") && arguments != null && arguments[0] instanceof String sql) {
                String text = sql.strip().toLowerCase(Locale.ROOT);
                Call call = Call.of(sql);
                if (call.kind() == Call.Kind.COMMIT) {
                    begun = null;
                    return false;
                }
                if (call.kind() == Call.Kind.ROLLBACK) {
                    goBack();
                    begun = null;
                    return false;
                }
                if (text.startsWith("begin") || text.startsWith("start transaction")) {
                    begun = connection.setSavepoint();
                    return false;
                }
                if (text.startsWith("set transaction")) {
                    return false;
                }
            }
            return invoke(method, statement, arguments);
        });
    }

    private void auto(boolean on) throws SQLException {
        if (on) {
            begun = null;
        } else if (begun == null) {
            begun = connection.setSavepoint();
        }
    }

    private void again() throws SQLException {
        if (begun != null) {
            begun = connection.setSavepoint();
        }
    }

    private void goBack() throws SQLException {
        if (begun != null) {
            connection.rollback(begun);
        }
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    private static @Nullable Object invoke(Method method, @Nullable Object on, @Nullable Object @Nullable [] arguments)
            throws Throwable {
        try {
            return method.invoke(on, arguments);
        } catch (InvocationTargetException e) {
            throw e.getCause();
        }
    }

    private static <T> T proxy(Class<T> type, InvocationHandler handler) {
        return type.cast(Proxy.newProxyInstance(RolledBack.class.getClassLoader(), new Class<?>[] {type}, handler));
    }
}
