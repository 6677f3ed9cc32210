package io.bathra.testing;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.concurrent.atomic.AtomicInteger;
import javax.sql.DataSource;
import org.junit.jupiter.api.extension.AfterEachCallback;
import org.junit.jupiter.api.extension.ExtensionContext;

/** Counts the connections that are taken from test databases, and fails the test that does not give them all back. */
public final class BorrowedConnections implements AfterEachCallback {
    private static final AtomicInteger OPEN = new AtomicInteger();

    @Override
    public void afterEach(ExtensionContext context) {
        assertThat(OPEN.getAndSet(0)).as("connections that were not given back").isZero();
    }

    /** The data source, counted. */
    static DataSource counted(DataSource source) {
        return proxy(
                DataSource.class,
                source,
                (method, result) -> method.equals("getConnection") ? counted(result) : result);
    }

    private static Object counted(Object connection) {
        OPEN.incrementAndGet();
        boolean[] closed = new boolean[1];
        return proxy(Connection.class, (Connection) connection, (method, result) -> {
            if (method.equals("close") && !closed[0]) {
                closed[0] = true;
                OPEN.decrementAndGet();
            }
            return result;
        });
    }

    private interface After {
        Object apply(String method, Object result) throws SQLException;
    }

    private static <T> T proxy(Class<T> type, T real, After after) {
        return type.cast(Proxy.newProxyInstance(
                BorrowedConnections.class.getClassLoader(), new Class<?>[] {type}, (proxy, method, arguments) -> {
                    try {
                        return after.apply(method.getName(), method.invoke(real, arguments));
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    }
                }));
    }
}
