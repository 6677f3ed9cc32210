package io.bathra.testing;

import static org.mockito.Mockito.mock;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import javax.sql.DataSource;
import org.mockito.Mockito;

/** An empty database whose sessions are in a zone that is neither the JVM's nor UTC, as a server's often is. */
public final class ElsewhereSource {
    private ElsewhereSource() {}

    /** A data source all of whose connections are elsewhere. */
    public static DataSource of(TestDatabase database) {
        DataSource source = database.empty();
        String zone = switch (database) {
            case H2 -> "set time zone 'Asia/Kathmandu'";
            case POSTGRESQL -> "set time zone 'Asia/Kathmandu'";
            case MARIADB -> "set time_zone = '+05:45'";
            case SQLITE -> "";
        };
        if (zone.isEmpty()) {
            return source;
        }
        return mock(DataSource.class, Mockito.withSettings().stubOnly().defaultAnswer(call -> {
            Object answer = call.getMethod().invoke(source, call.getArguments());
            if (answer instanceof Connection connection) {
                move(connection, zone);
            }
            return answer;
        }));
    }

    private static void move(Connection connection, String zone) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(zone);
        }
    }
}
