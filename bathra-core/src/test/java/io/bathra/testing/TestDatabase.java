package io.bathra.testing;

import io.bathra.jdbc.UrlDataSource;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.concurrent.atomic.AtomicInteger;
import javax.sql.DataSource;

/** The databases that the contract suite runs on. Each call for a data source gives an empty database of its own. */
public enum TestDatabase {
    H2 {
        @Override
        public DataSource empty() {
            return new UrlDataSource("jdbc:h2:mem:test" + NUMBERS.incrementAndGet(), null, null);
        }
    },
    POSTGRESQL {
        @Override
        public DataSource empty() {
            String schema = "test" + NUMBERS.incrementAndGet();
            execute(
                    new UrlDataSource(PostgresServer.URL, null, null),
                    "drop schema if exists " + schema + " cascade; create schema " + schema);
            String separator = PostgresServer.URL.contains("?") ? "&" : "?";
            return new UrlDataSource(PostgresServer.URL + separator + "currentSchema=" + schema, null, null);
        }
    };

    private static final AtomicInteger NUMBERS = new AtomicInteger();

    public abstract DataSource empty();

    /** Executes SQL on a connection of its own. */
    public static void execute(DataSource source, String sql) {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute(sql);
        } catch (SQLException e) {
            throw new IllegalStateException(sql, e);
        }
    }

    /** A server of one's own, named by an environment variable, or one that is started for the tests. */
    private static final class PostgresServer {
        private static final String URL = start();

        private static String start() {
            String own = System.getenv("BATHRA_TEST_POSTGRES_URL");
            if (own != null) {
                return own;
            }
            try {
                return EmbeddedPostgres.builder().start().getJdbcUrl("postgres", "postgres");
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }
}
