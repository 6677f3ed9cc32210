package io.bathra.testing;

import java.io.PrintWriter;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.util.logging.Logger;
import javax.sql.DataSource;

/** A data source whose connections ask a fault before each call; the fault may throw. Counts what is open. */
public final class FaultySource implements DataSource {
    /** Called with the name of each method of a connection and its first argument. */
    @FunctionalInterface
    public interface Fault {
        void before(Connection connection, String method, Object argument) throws SQLException;
    }

    private static final Fault NONE = (connection, method, argument) -> {};

    private final DataSource source;
    private Fault fault = NONE;
    private int open;

    public FaultySource(DataSource source) {
        this.source = source;
    }

    public void inject(Fault newFault) {
        fault = newFault;
    }

    public void mend() {
        fault = NONE;
    }

    /** The data source behind, without faults. */
    public DataSource unwrapped() {
        return source;
    }

    /** Connections taken and not given back. */
    public int open() {
        return open;
    }

    @Override
    public Connection getConnection() throws SQLException {
        Connection real = source.getConnection();
        open++;
        return (Connection) Proxy.newProxyInstance(
                Connection.class.getClassLoader(), new Class<?>[] {Connection.class}, (proxy, method, args) -> {
                    if (method.getName().equals("close")) {
                        open--;
                    } else {
                        fault.before(real, method.getName(), args == null ? null : args[0]);
                    }
                    try {
                        return method.invoke(real, args);
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    }
                });
    }

    @Override
    public Connection getConnection(String user, String password) throws SQLException {
        throw new SQLFeatureNotSupportedException();
    }

    @Override
    public PrintWriter getLogWriter() {
        return null;
    }

    @Override
    public void setLogWriter(PrintWriter out) {}

    @Override
    public void setLoginTimeout(int seconds) {}

    @Override
    public int getLoginTimeout() {
        return 0;
    }

    @Override
    public Logger getParentLogger() throws SQLFeatureNotSupportedException {
        throw new SQLFeatureNotSupportedException();
    }

    @Override
    public <T> T unwrap(Class<T> type) throws SQLException {
        return source.unwrap(type);
    }

    @Override
    public boolean isWrapperFor(Class<?> type) throws SQLException {
        return source.isWrapperFor(type);
    }
}
