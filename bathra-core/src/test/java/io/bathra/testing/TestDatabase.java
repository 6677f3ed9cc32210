package io.bathra.testing;

import io.bathra.jdbc.UrlDataSource;
import io.bathra.testing.ServerKeeper.Product;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/** The databases that the contract suite runs on. Each call for a data source gives an empty database of its own. */
public enum TestDatabase {
    H2 {
        @Override
        String emptyUrl() {
            return "jdbc:h2:mem:test" + NUMBERS.incrementAndGet();
        }
    },
    SQLITE {
        @Override
        String emptyUrl() {
            try {
                Path file = Files.createTempFile("bathra-test", ".db");
                file.toFile().deleteOnExit();
                return "jdbc:sqlite:" + file + "?journal_mode=WAL&synchronous=OFF";
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    },
    POSTGRESQL {
        @Override
        String emptyUrl() {
            String schema = freshName(NUMBERS.incrementAndGet());
            DataSource source = new UrlDataSource(PostgresServer.URL, null, null);
            execute(source, "drop schema if exists " + schema + " cascade; create schema " + schema);
            if (PostgresServer.POOLER == null) {
                String separator = PostgresServer.URL.contains("?") ? "&" : "?";
                return PostgresServer.URL + separator + "currentSchema=" + schema;
            }
            execute(source, "create role " + schema + " superuser login");
            execute(source, "alter role " + schema + " set search_path to " + schema);
            return PostgresServer.URL.replace("user=postgres", "user=" + schema);
        }
    },
    MARIADB {
        @Override
        String emptyUrl() {
            String schema = freshName(NUMBERS.incrementAndGet());
            DataSource source = new UrlDataSource(MariaDbServer.URL, null, null);
            execute(source, "drop database if exists " + schema);
            execute(source, "create database " + schema);
            return MariaDbServer.URL.replaceFirst("/[^/?]*(\\?|$)", "/" + schema + "$1");
        }
    };

    /** The JDBC URL of an empty database that another process reaches as well. */
    public String sharedUrl() {
        if (this != H2) {
            return emptyUrl();
        }
        try {
            return "jdbc:h2:file:" + Files.createTempDirectory("bathra-test").resolve("shared") + ";AUTO_SERVER=TRUE";
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The name of a schema that is empty and not that of {@link #empty} connections. */
    public String otherSchema() {
        return this == SQLITE ? "main" : "other Schema" + NUMBERS.incrementAndGet();
    }

    /** Those that tests are to run on: the ones that a property names, or all. */
    public static Stream<TestDatabase> chosen() {
        String names = System.getProperty("bathra.databases", "");
        return names.isEmpty()
                ? Stream.of(values())
                : Stream.of(names.split(",")).map(TestDatabase::valueOf);
    }

    private static final AtomicInteger NUMBERS = new AtomicInteger();

    /** Several programs may work on one server. */
    private static String freshName(int number) {
        return "test" + ProcessHandle.current().pid() + "_" + number;
    }

    /** The JDBC URL of an empty database. */
    abstract String emptyUrl();

    /** Whether each transaction is given to any of few sessions, by a pooler of one's own. */
    public boolean isPooled() {
        return this == POSTGRESQL && PostgresServer.POOLER != null;
    }

    public DataSource empty() {
        return BorrowedConnections.counted(new UrlDataSource(emptyUrl(), null, null));
    }

    /** Executes SQL on a connection of its own. */
    public static void execute(DataSource source, String sql) {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute(sql);
        } catch (SQLException e) {
            throw new IllegalStateException(sql, e);
        }
    }

    /** How many rows a table has. */
    public static long count(DataSource source, String table) {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement();
                ResultSet result = statement.executeQuery("select count(*) from " + table)) {
            result.next();
            return result.getLong(1);
        } catch (SQLException e) {
            throw new IllegalStateException(table, e);
        }
    }

    /** A server of one's own, named by an environment variable, or one that is started for the tests. */
    private static final class PostgresServer {
        /**
         * A pooler before it gives transactions to any session, so that schemas belong to users and not to
         * connections.
         */
        private static final @Nullable String POOLER = System.getenv("BATHRA_TEST_POSTGRES_POOLER");

        private static final String URL = start();

        private static String start() {
            if (POOLER != null) {
                return POOLER + "&prepareThreshold=0";
            }
            String own = System.getenv("BATHRA_TEST_POSTGRES_URL");
            return own != null ? own : BuildServers.url(Product.POSTGRESQL);
        }
    }

    /** A server of one's own, named by an environment variable, or one that is started for the tests. */
    private static final class MariaDbServer {
        private static final String URL = start();

        private static String start() {
            String own = System.getenv("BATHRA_TEST_MARIADB_URL");
            return own != null ? own : BuildServers.url(Product.MARIADB);
        }
    }
}
