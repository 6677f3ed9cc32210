package io.bathra.cli;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.error.DatabaseUrl;
import io.bathra.model.Model;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** Which database: the options of all commands that work with one. */
final class DatabaseOptions {
    private static final int CONNECTIONS = 4;
    private static final long CONNECTION_MILLIS = 10_000;

    @Option(
            names = "--url",
            paramLabel = "URL",
            description = "The database, as a JDBC URL. Without it, an embedded H2.",
            order = 3)
    private @Nullable String url;

    @Option(names = "--user", paramLabel = "NAME", description = "The database's user.", order = 4)
    private @Nullable String user;

    @Option(
            names = "--password",
            paramLabel = "WORD",
            description = "The user's password. Asked for when no word follows; BATHRA_PASSWORD keeps it out of "
                    + "lists of processes.",
            arity = "0..1",
            interactive = true,
            order = 5)
    private @Nullable String password;

    /**
     * A store and the pool behind it.
     *
     * @param url which may hold a password, so nobody shows it
     * @param place the database in words
     */
    record Opened(Store store, HikariDataSource pool, String url, String place) implements AutoCloseable {
        /**
         * Connections of now are not lent again, since somebody was cut off while he talked on one, and the next would
         * get what is still to be answered to him. A database in memory ends with its last connection, and talks within
         * this program alone.
         */
        void forsakeConnections() {
            if (!url.startsWith("jdbc:h2:mem:")) {
                pool.getHikariPoolMXBean().softEvictConnections();
            }
        }

        @Override
        public void close() {
            store.close();
            pool.close();
        }
    }

    /** Whether a database was asked for. */
    boolean isGiven(SettingsOption settings) {
        return settings.given(url, "url") != null;
    }

    /** Opens a store on the database that was asked for, else on an embedded one in the working folder. */
    Opened open(SettingsOption settings, Model of) {
        return open(
                settings, of, "jdbc:h2:./" + of.name().toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9_-]", "-"));
    }

    /** Opens a store on the database that was asked for. */
    Opened open(SettingsOption settings, Model of, String otherwise) {
        return openOn(settings, of, url(settings, otherwise));
    }

    /** The same, where an embedded database stays open until the program has ended what it was doing. */
    Opened openToEnd(SettingsOption settings, Model of, String otherwise) {
        String asked = url(settings, otherwise);
        String words = asked.toUpperCase(Locale.ROOT);
        boolean closesByItself = asked.startsWith("jdbc:h2:")
                && !words.contains("DB_CLOSE_ON_EXIT")
                && !words.contains("AUTO_SERVER=TRUE"); // with which it insists on closing
        return openOn(settings, of, closesByItself ? asked + ";DB_CLOSE_ON_EXIT=FALSE" : asked);
    }

    private String url(SettingsOption settings, String otherwise) {
        String given = settings.given(url, "url");
        return given == null ? otherwise : given;
    }

    /** Opens a store on a database of this URL. */
    Opened openOn(SettingsOption settings, Model of, String database) {
        HikariConfig config = new HikariConfig();
        config.setJdbcUrl(database);
        config.setUsername(settings.given(user, "user"));
        String word = settings.given(password, "password");
        config.setPassword(word);
        DatabaseUrl shown = DatabaseUrl.of(database, word);
        try {
            DriverManager.getDriver(database);
        } catch (SQLException e) {
            throw shown.withoutDriver(e);
        }
        config.setPoolName("bathra");
        config.setConnectionTimeout(CONNECTION_MILLIS);
        config.setMinimumIdle(1);
        config.setMaximumPoolSize(database.startsWith("jdbc:sqlite") ? 1 : CONNECTIONS);
        HikariDataSource pool = null;
        try {
            pool = new HikariDataSource(config);
            Store store = Store.open(of, pool);
            return new Opened(store, pool, database, store.databaseName() + " (" + shown + ")");
        } catch (RuntimeException e) {
            if (pool != null) {
                pool.close();
            }
            throw e instanceof BathraException ? e : unreachable(shown, e);
        }
    }

    private static BathraException unreachable(DatabaseUrl url, RuntimeException e) {
        Throwable cause = e;
        while (cause.getCause() != null) {
            cause = cause.getCause(); // the pool's own words do not say why
        }
        String message = String.valueOf(cause.getMessage());
        return new DatabaseUnreachableException(
                "no connection to the database " + url + ": "
                        + url.withheld(message.lines().findFirst().orElse(message))
                        + "; check that it runs, and the URL, user and password",
                e);
    }
}
