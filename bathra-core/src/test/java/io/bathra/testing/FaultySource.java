package io.bathra.testing;

import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.withSettings;

import java.lang.reflect.InvocationTargetException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.concurrent.atomic.AtomicInteger;
import javax.sql.DataSource;
import org.mockito.invocation.InvocationOnMock;

/** A data source whose connections ask a fault before each call; the fault may throw. Counts what is open. */
public final class FaultySource {
    /** Called with the name of each method of a connection and its first argument. */
    @FunctionalInterface
    public interface Fault {
        void before(Connection connection, String method, Object argument) throws SQLException;
    }

    private static final Fault NONE = (connection, method, argument) -> {};

    private final DataSource source;
    private volatile Fault fault = NONE;
    private final AtomicInteger open = new AtomicInteger();

    public FaultySource(DataSource source) {
        this.source = source;
    }

    public void inject(Fault newFault) {
        fault = newFault;
    }

    public void mend() {
        fault = NONE;
    }

    /** Connections taken and not given back. */
    public int open() {
        return open.get();
    }

    /** The data source behind, without faults. */
    public DataSource unwrapped() {
        return source;
    }

    /** The data source with faults. */
    public DataSource wrapped() {
        return mock(DataSource.class, withSettings().stubOnly().defaultAnswer(call -> connection()));
    }

    private Connection connection() throws SQLException {
        Connection real = source.getConnection();
        open.incrementAndGet();
        return mock(Connection.class, withSettings().stubOnly().defaultAnswer(call -> answer(real, call)));
    }

    private Object answer(Connection real, InvocationOnMock call) throws Throwable {
        if (call.getMethod().getName().equals("close")) {
            open.decrementAndGet();
        } else {
            Object[] arguments = call.getArguments();
            fault.before(real, call.getMethod().getName(), arguments.length == 0 ? null : arguments[0]);
        }
        try {
            return call.getMethod().invoke(real, call.getRawArguments());
        } catch (InvocationTargetException e) {
            throw e.getCause();
        }
    }
}
