package io.bathra.bench.day;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.Statement;
import java.util.concurrent.atomic.LongAdder;
import javax.sql.DataSource;

/** A data source that counts what is executed through it; a batch is one. */
final class CountedStatements {
    private final DataSource source;
    private final LongAdder executed = new LongAdder();

    CountedStatements(DataSource source) {
        this.source = wrapped(DataSource.class, source);
    }

    DataSource source() {
        return source;
    }

    long executed() {
        return executed.sum();
    }

    private <T> T wrapped(Class<T> type, T behind) {
        return type.cast(Proxy.newProxyInstance(
                CountedStatements.class.getClassLoader(), new Class<?>[] {type}, (proxy, method, arguments) -> {
                    if (behind instanceof Statement && method.getName().startsWith("execute")) {
                        executed.increment();
                    }
                    try {
                        Object answer = method.invoke(behind, arguments);
                        return method.getName().equals("unwrap") ? answer : seen(answer);
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    }
                }));
    }

    private Object seen(Object answer) {
        if (answer instanceof Connection connection) {
            return wrapped(Connection.class, connection);
        } else if (answer instanceof PreparedStatement statement) {
            return wrapped(PreparedStatement.class, statement);
        }
        return answer instanceof Statement statement ? wrapped(Statement.class, statement) : answer;
    }
}
