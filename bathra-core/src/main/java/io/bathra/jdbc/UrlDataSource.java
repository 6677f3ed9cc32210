package io.bathra.jdbc;

import io.bathra.catalogue.DriverWords;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.error.DatabaseUrl;
import java.io.PrintWriter;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.util.Properties;
import java.util.logging.Logger;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/**
 * A new connection for each request: enough for a tool or a test. It holds one connection as an anchor where the
 * database would vanish without.
 */
public final class UrlDataSource implements DataSource, AutoCloseable {
    private final String url;
    private final DatabaseUrl shown;
    private final Properties properties = new Properties();
    private @Nullable Connection anchor;

    public UrlDataSource(String url, @Nullable String user, @Nullable String password) {
        Database.refuseForgetful(url);
        this.url = url;
        this.shown = DatabaseUrl.of(url, password);
        try {
            DriverManager.getDriver(url);
        } catch (SQLException e) {
            throw shown.withoutDriver(e);
        }
        if (user != null) {
            properties.put("user", user);
        }
        if (password != null) {
            properties.put("password", password);
        }
        if (Database.livesWithConnection(url)) {
            try {
                anchor = getConnection();
            } catch (SQLException e) {
                throw new DatabaseUnreachableException("no connection to " + shown + ": " + DriverWords.of(e), e);
            }
        }
    }

    @Override
    public Connection getConnection() throws SQLException {
        try {
            return DriverManager.getConnection(url, properties);
        } catch (SQLException e) {
            throw withheld(e, shown);
        }
    }

    @Override
    public Connection getConnection(String user, String password) throws SQLException {
        try {
            return DriverManager.getConnection(url, user, password);
        } catch (SQLException e) {
            throw withheld(e, DatabaseUrl.of(url, password));
        }
    }

    /** The same exception where its texts show no password, else one of the same state with texts that do not. */
    private static SQLException withheld(SQLException thrown, DatabaseUrl url) {
        boolean clean = thrown.getSuppressed().length == 0;
        for (Throwable next = thrown; next != null; next = next.getCause()) {
            clean &= next.toString().equals(url.withheld(next.toString()));
        }
        if (clean) {
            return thrown;
        }
        SQLException copy = new SQLException(
                url.withheld(String.valueOf(thrown.getMessage())), thrown.getSQLState(), thrown.getErrorCode());
        copy.setStackTrace(thrown.getStackTrace());
        return copy;
    }

    @Override
    public void close() {
        if (anchor != null) {
            try {
                anchor.close();
            } catch (SQLException e) {
                throw new IllegalStateException("cannot close the last connection to " + shown, withheld(e, shown));
            }
        }
    }

    @Override
    public @Nullable PrintWriter getLogWriter() {
        return null;
    }

    @Override
    public void setLogWriter(PrintWriter out) throws SQLException {
        throw new SQLFeatureNotSupportedException("drivers log by themselves");
    }

    @Override
    public void setLoginTimeout(int seconds) throws SQLException {
        throw new SQLFeatureNotSupportedException("put the time-out into the URL");
    }

    @Override
    public int getLoginTimeout() {
        return 0;
    }

    @Override
    public Logger getParentLogger() throws SQLFeatureNotSupportedException {
        throw new SQLFeatureNotSupportedException("drivers log by themselves");
    }

    @Override
    public <T> T unwrap(Class<T> type) throws SQLException {
        if (type.isInstance(this)) {
            return type.cast(this);
        }
        throw new SQLException("this is no " + type.getName());
    }

    @Override
    public boolean isWrapperFor(Class<?> type) {
        return type.isInstance(this);
    }
}
