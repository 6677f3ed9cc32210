package io.bathra.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Terms;
import java.io.IOException;
import java.lang.reflect.Proxy;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import java.util.function.Supplier;
import javax.sql.DataSource;

/** The servers, which scripts start, end without a word, and start again. */
final class Fleet {
    /** Whether counts are those of a long run, for which somebody has the time. */
    static final boolean LONG = Boolean.getBoolean("bathra.long");

    /** A connection may be long in coming where five hundred wait for one on two processors. */
    private static final int PATIENCE_MILLIS = 120_000;

    /** A unit of work is done again until it succeeds: nobody gives up because a machine is slow. */
    static final Terms RETRYING = Terms.retrying(10_000).upTo(Duration.ofMinutes(5));

    private static final String SCRIPTS = System.getProperty("bathra.fleet.servers");

    private Fleet() {}

    /** Runs the script of some servers; gives what it has printed. */
    static String tell(String servers, String... arguments) {
        List<String> command = new ArrayList<>(List.of(SCRIPTS + "/" + servers));
        command.addAll(List.of(arguments));
        try {
            Process process = new ProcessBuilder(command)
                    .redirectError(ProcessBuilder.Redirect.INHERIT)
                    .start();
            String printed = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            if (process.waitFor() != 0) {
                throw new IllegalStateException(command + " has failed: " + printed);
            }
            return printed.trim();
        } catch (IOException e) {
            throw new IllegalStateException(command.toString(), e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    /** The URLs of some servers, each for the same database. */
    static List<String> urls(String servers, String database) {
        List<String> urls = new ArrayList<>();
        for (String url : tell(servers, "url").split(" ")) {
            urls.add(url.replaceFirst("/[^/?]*\\?", "/" + database + "?"));
        }
        return urls;
    }

    /** Host and port of a URL. */
    static String address(String url) {
        return url.replaceFirst(".*//([^/]+)/.*", "$1");
    }

    /** A pool of connections that makes one when somebody wants it. */
    static HikariDataSource pool(String url, int most) {
        return pool(url, most, PATIENCE_MILLIS);
    }

    static HikariDataSource pool(String url, int most, int patienceMillis) {
        HikariConfig config = new HikariConfig();
        config.setJdbcUrl(url);
        config.setMaximumPoolSize(most);
        config.setMinimumIdle(0);
        config.setConnectionTimeout(patienceMillis);
        config.setInitializationFailTimeout(-1);
        return new HikariDataSource(config);
    }

    /** Connections to whatever server a URL names at the moment. */
    static DataSource leadingTo(Supplier<String> url) {
        return (DataSource) Proxy.newProxyInstance(
                Fleet.class.getClassLoader(), new Class<?>[] {DataSource.class}, (source, method, arguments) -> {
                    if (method.getName().equals("getConnection")) {
                        return DriverManager.getConnection(url.get());
                    } else if (method.getName().equals("isWrapperFor")) {
                        return false;
                    }
                    throw new SQLFeatureNotSupportedException(method.getName());
                });
    }

    /** Executes SQL on a connection of its own. */
    static void execute(String url, String... statements) {
        try (Connection connection = DriverManager.getConnection(url);
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        } catch (SQLException e) {
            throw new IllegalStateException(String.join("; ", statements), e);
        }
    }

    /** All that queries answer with, asked on one connection of its own. */
    static List<String> ask(String url, String... queries) {
        List<String> answers = new ArrayList<>();
        try (Connection connection = DriverManager.getConnection(url);
                Statement statement = connection.createStatement()) {
            for (String query : queries) {
                if (!statement.execute(query)) {
                    continue;
                }
                try (ResultSet result = statement.getResultSet()) {
                    while (result.next()) {
                        StringBuilder row = new StringBuilder();
                        for (int i = 1; i <= result.getMetaData().getColumnCount(); i++) {
                            row.append(i == 1 ? "" : " ").append(result.getString(i));
                        }
                        answers.add(row.toString());
                    }
                }
            }
        } catch (SQLException e) {
            throw new IllegalStateException(String.join("; ", queries), e);
        }
        return answers;
    }

    /** Waits until something is so. */
    static void until(String what, BooleanSupplier isSo) {
        long begun = System.nanoTime();
        while (!isSo.getAsBoolean()) {
            assertThat(Duration.ofNanos(System.nanoTime() - begun))
                    .as("how long was waited: " + what)
                    .isLessThan(Duration.ofMinutes(2));
            sleep(100);
        }
    }

    static void await(CountDownLatch latch) {
        try {
            assertThat(latch.await(2, TimeUnit.MINUTES))
                    .as("what is awaited has come")
                    .isTrue();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    static void sleep(long millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    /** Prints a count that somebody may want to quote. */
    static void say(String text, Object... values) {
        System.out.println("FLEET " + String.format(text, values));
    }
}
