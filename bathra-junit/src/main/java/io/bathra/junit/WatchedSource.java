package io.bathra.junit;

import java.lang.reflect.InvocationHandler;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ConcurrentLinkedDeque;
import java.util.concurrent.atomic.AtomicInteger;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/**
 * A data source all of whose connections are watched. Connections may be kept and given out again, as a pool does. What they
 * can be unwrapped to stays the driver's own, so that a driver's own ways are taken; copies of PostgreSQL are watched
 * there too.
 */
final class WatchedSource {
    /** What can be asked of a connection that has been given back, which may be another's by now. */
    private static final Set<String> OF_CLOSED = Set.of("close", "isClosed", "toString", "hashCode", "equals", "abort");

    private final DataSource real;
    private final Watcher watcher;
    private final boolean keeping;
    private final Deque<Connection> idle = new ConcurrentLinkedDeque<>();
    private final AtomicInteger open = new AtomicInteger();

    WatchedSource(DataSource real, Watcher watcher, boolean keeping) {
        this.real = real;
        this.watcher = watcher;
        this.keeping = keeping;
    }

    /** How many connections are taken and not given back. */
    int open() {
        return open.get();
    }

    /** Does not count those any more that were never given back. */
    void forget() {
        open.set(0);
    }

    /** Closes those that are kept. */
    void close() {
        for (Connection one = idle.poll(); one != null; one = idle.poll()) {
            try {
                one.close();
            } catch (SQLException e) {
                // it is of no use any more in either case
            }
        }
    }

    DataSource source() {
        return proxy(DataSource.class, (proxy, method, arguments) -> {
            boolean asked = method.getName().equals("getConnection");
            if (!asked) {
                return invoke(method, real, arguments);
            }
            Object taken = watcher.around(Call.CONNECTING, null, this::take);
            open.incrementAndGet();
            return watched((Connection) Objects.requireNonNull(taken));
        });
    }

    private Connection take() throws SQLException {
        for (Connection kept = idle.poll(); kept != null; kept = idle.poll()) {
            if (!kept.isClosed()) {
                return kept;
            }
        }
        return real.getConnection();
    }

    private void giveBack(Connection connection) throws SQLException {
        open.decrementAndGet();
        if (!keeping || connection.isClosed()) {
            connection.close();
            return;
        }
        if (!connection.getAutoCommit()) {
            connection.rollback();
            connection.setAutoCommit(true);
        }
        idle.push(connection);
    }

    private Connection watched(Connection connection) {
        boolean[] closed = new boolean[1];
        return proxy(Connection.class, (proxy, method, arguments) -> {
            if (closed[0] && !OF_CLOSED.contains(method.getName())) {
                throw new SQLException("this connection has been given back", "08003");
            }
            switch (method.getName()) {
                case "close" -> {
                    if (!closed[0]) {
                        closed[0] = true;
                        giveBack(connection);
                    }
                    return null;
                }
                case "isClosed" -> {
                    return closed[0] || connection.isClosed();
                }
                case "commit" -> {
                    return watcher.around(Call.COMMITTING, connection, () -> sql(method, connection, arguments));
                }
                case "rollback" -> {
                    return arguments == null
                            ? watcher.around(Call.ROLLING_BACK, connection, () -> sql(method, connection, arguments))
                            : invoke(method, connection, arguments);
                }
                case "prepareStatement", "prepareCall" -> {
                    Object statement = invoke(method, connection, arguments);
                    return statement(
                            (Connection) proxy, connection, PreparedStatement.class, statement, (String) arguments[0]);
                }
                case "createStatement" -> {
                    Object statement = invoke(method, connection, arguments);
                    return statement((Connection) proxy, connection, Statement.class, statement, null);
                }
                case "unwrap" -> {
                    return unwrapped(connection, (Class<?>) arguments[0]);
                }
                case "abort" -> {
                    return closed[0] ? null : invoke(method, connection, arguments);
                }
                case "toString" -> {
                    return "watched " + connection;
                }
                default -> {
                    return invoke(method, connection, arguments);
                }
            }
        });
    }

    private @Nullable Object unwrapped(Connection connection, Class<?> type) throws SQLException {
        Object own = type.isInstance(connection) ? connection : connection.unwrap(type);
        return type.getName().equals("org.postgresql.PGConnection")
                ? WatchedCopies.of(own, sql -> watcher.around(Call.of(sql), connection, () -> null))
                : own;
    }

    private Object statement(
            Connection proxied,
            Connection connection,
            Class<?> type,
            @Nullable Object statement,
            @Nullable String prepared) {
        Bound bound = new Bound();
        return proxy(type, (proxy, method, arguments) -> {
            String name = method.getName();
            if (name.equals("getConnection")) {
                return proxied;
            }
            if (!name.startsWith("execute")) {
                bound.note(method, arguments);
                return invoke(method, statement, arguments);
            }
            boolean own = arguments != null && arguments.length > 0 && arguments[0] instanceof String;
            String sql = own ? (String) arguments[0] : prepared == null ? "" : prepared;
            return around(connection, Parts.of(sql), bound, 0, () -> sql(method, statement, arguments));
        });
    }

    /** Each part of a text may fail by itself; then those before it have been executed, and none behind it. */
    private @Nullable Object around(Connection connection, Parts parts, Bound bound, int number, Watcher.Going all)
            throws SQLException {
        List<Parts.Placed> calls = parts.calls();
        if (number == calls.size()) {
            return all.on();
        }
        Parts.Placed one = calls.get(number);
        if (calls.size() == 1 && one.place() == 0) {
            return watcher.around(one.call(), connection, all);
        }
        return watcher.around(one.call(), connection, new Watcher.Going() {
            @Override
            public @Nullable Object on() throws SQLException {
                return around(connection, parts, bound, number + 1, all);
            }

            @Override
            public void before() throws SQLException {
                if (one.place() > 0) {
                    until("");
                }
            }

            @Override
            public void failing(Connection real, String sql) throws SQLException {
                until(sql);
            }

            private void until(String last) throws SQLException {
                try (PreparedStatement until = connection.prepareStatement(parts.instead(one.place(), last))) {
                    bound.bind(until, parts.placeholdersBefore(one.place()));
                    until.execute();
                }
            }
        });
    }

    /** What was bound to the placeholders of a statement, to be bound to those of another one. */
    private static final class Bound {
        private final Map<Integer, Binding> last = new HashMap<>();

        private record Binding(Method method, @Nullable Object[] arguments) {}

        void note(Method method, @Nullable Object @Nullable [] arguments) {
            if (method.getName().startsWith("set")
                    && arguments != null
                    && arguments.length > 1
                    && arguments[0] instanceof Integer index) {
                last.put(index, new Binding(method, arguments));
            }
        }

        void bind(PreparedStatement statement, int first) throws SQLException {
            for (int i = 1; i <= first; i++) {
                Binding one = Objects.requireNonNull(last.get(i));
                sql(one.method, statement, one.arguments);
            }
        }
    }

    private static @Nullable Object sql(Method method, @Nullable Object on, @Nullable Object @Nullable [] arguments)
            throws SQLException {
        try {
            return invoke(method, on, arguments);
        } catch (SQLException | RuntimeException e) {
            throw e;
        } catch (Throwable e) {
            throw new IllegalStateException(e);
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
        return type.cast(Proxy.newProxyInstance(WatchedSource.class.getClassLoader(), new Class<?>[] {type}, handler));
    }
}
