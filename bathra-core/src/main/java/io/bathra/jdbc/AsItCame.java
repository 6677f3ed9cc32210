package io.bathra.jdbc;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayDeque;
import java.util.Deque;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Changes the settings of a connection for a while, and then makes them what they were when it came. */
final class AsItCame {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra.sql");

    private final Connection connection;
    private @Nullable Deque<Step> back; // most connections come as they are wanted

    AsItCame(Connection connection) {
        this.connection = connection;
    }

    /** Changes a setting back. */
    @FunctionalInterface
    interface Step {
        void apply() throws SQLException;
    }

    Connection connection() {
        return connection;
    }

    /** Executes a statement. */
    void execute(String sql) throws SQLException {
        Database.execute(connection, sql);
    }

    /** Sets something by a statement that another one changes back. */
    void set(String sql, String sqlBack) throws SQLException {
        execute(sql);
        atLast(() -> execute(sqlBack));
    }

    void autoCommit(boolean wanted) throws SQLException {
        if (connection.getAutoCommit() != wanted) {
            connection.setAutoCommit(wanted);
            atLast(() -> connection.setAutoCommit(!wanted));
        }
    }

    void readOnly() throws SQLException {
        if (!connection.isReadOnly()) {
            connection.setReadOnly(true);
            atLast(() -> connection.setReadOnly(false));
        }
    }

    void isolation(int level) throws SQLException {
        int before = connection.getTransactionIsolation();
        if (before != level) {
            connection.setTransactionIsolation(level);
            atLast(() -> connection.setTransactionIsolation(before));
        }
    }

    /** Something is to be changed back when the connection goes; what was changed last is changed back first. */
    void atLast(Step step) {
        Deque<Step> steps = back;
        if (steps == null) {
            steps = new ArrayDeque<>(2);
            back = steps;
        }
        steps.push(step);
    }

    /** Changes back what was changed, as far as the connection allows. */
    void restore() {
        while (back != null && !back.isEmpty()) {
            Step step = back.pop();
            try {
                if (!connection.isClosed()) {
                    step.apply();
                }
            } catch (SQLException e) {
                LOG.debug("a connection is not given back as it came", e);
            }
        }
    }
}
