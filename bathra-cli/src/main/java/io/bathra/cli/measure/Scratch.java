package io.bathra.cli.measure;

import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.error.StatementException;
import io.bathra.model.Model;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Function;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/**
 * A place of our own for rows that are made up, within the database that was named: a schema, which MariaDB calls a
 * database, or on SQLite a file beside its file. Nothing of anybody's is in it, and it is taken away in the end.
 */
public final class Scratch implements AutoCloseable {
    private static final String BEGINNING = "bathra_measure_";
    private static final String FILES = "-measure-";
    private static final String SQLITE = "jdbc:sqlite:";

    /** What comes behind the beginning of our names: nothing else is ever taken for ours. */
    private static final Pattern STAMP = Pattern.compile("\\d{8}_\\d{6}_[0-9a-z]+");

    private final Store store;
    private final Runnable dropping;

    private Scratch(Store store, Runnable dropping) {
        this.store = store;
        this.dropping = dropping;
    }

    /**
     * Makes one.
     *
     * @param database a store on the database
     * @param source where that has its connections
     * @param url of the database
     * @param opening opens a store on another URL
     * @throws BathraException when that is not allowed, with what is to be granted
     */
    public static Scratch make(Store database, DataSource source, String url, Function<String, Opened> opening) {
        Model model = database.model();
        String stamp = DateTimeFormatter.ofPattern("yyyyMMdd_HHmmss").format(LocalDateTime.now()) + "_"
                + Long.toString(ProcessHandle.current().pid(), Character.MAX_RADIX);
        Path file = file(url);
        if (file != null) {
            Path own = file.resolveSibling(file.getFileName() + FILES + stamp);
            Opened opened = opening.apply(url.replace(pathIn(url), own.toString()));
            return new Scratch(opened.store(), () -> {
                opened.closing().run();
                delete(own);
            });
        }
        if (url.startsWith(SQLITE)) {
            return new Scratch(database, () -> {}); // it is nobody else's
        }
        String schema = BEGINNING + stamp;
        try {
            database.sql("create schema " + schema).execute();
        } catch (StatementException e) {
            throw new BathraException(
                    "no schema of its own can be made to measure in, and tables of others are left alone; "
                            + grant(database) + ", or name another database with --url\n  " + e.getMessage(),
                    e);
        }
        return new Scratch(Store.open(model.inSchema(schema), source), () -> drop(database, schema));
    }

    /**
     * A store that was opened for it.
     *
     * @param closing closes it, and what is behind it
     */
    public record Opened(Store store, Runnable closing) {}

    private static String grant(Store database) {
        return switch (database.databaseName()) {
            case "PostgreSQL" -> "grant create on database ... to the user";
            case "MariaDB" -> "grant all on `bathra\\_measure\\_%`.* to the user";
            default -> "make the user an administrator";
        };
    }

    private static void drop(Store database, String schema) {
        String along = database.databaseName().equals("MariaDB") ? "" : " cascade";
        database.sql("drop schema " + schema + along).execute();
    }

    /** The file of a URL of SQLite; null for memory, and other products. */
    private static @Nullable Path file(String url) {
        String path = pathIn(url);
        return !url.startsWith(SQLITE) || path.isEmpty() || path.startsWith(":memory:") || path.startsWith("file:")
                ? null
                : Path.of(path);
    }

    private static String pathIn(String url) {
        String path = url.startsWith(SQLITE) ? url.substring(SQLITE.length()) : "";
        int options = path.indexOf('?');
        return options < 0 ? path : path.substring(0, options);
    }

    private static void delete(Path file) {
        try {
            for (String ending : List.of("", "-wal", "-shm", "-journal")) {
                Files.deleteIfExists(file.resolveSibling(file.getFileName() + ending));
            }
        } catch (IOException e) {
            throw new BathraException(file + " cannot be deleted, which was made to measure in: " + e, e);
        }
    }

    /** Those that runs have left which were cut off; one that is going on has one too. */
    public static List<String> left(Store database, String url) {
        Path file = file(url);
        if (file != null) {
            Path folder = file.toAbsolutePath().getParent();
            String beginning = file.getFileName() + FILES;
            try (Stream<Path> files = Files.list(folder)) {
                return files.filter(one -> isOurs(one.getFileName().toString(), beginning))
                        .map(Path::toString)
                        .sorted()
                        .toList();
            } catch (IOException e) {
                return List.of(); // the folder is not there yet
            }
        }
        if (url.startsWith(SQLITE)) {
            return List.of();
        }
        List<String> left = new ArrayList<>();
        database.sql("select schema_name from information_schema.schemata order by schema_name")
                .as(String.class)
                .list()
                .forEach(name -> {
                    if (isOurs(name.toLowerCase(Locale.ROOT), BEGINNING)) {
                        left.add(name);
                    }
                });
        return left;
    }

    private static boolean isOurs(String name, String beginning) {
        return name.startsWith(beginning)
                && STAMP.matcher(name.substring(beginning.length())).matches();
    }

    /** Takes one away that was left. */
    public static void remove(Store database, String name) {
        if (name.contains(FILES)) {
            delete(Path.of(name));
        } else {
            drop(database, name);
        }
    }

    /** A store on it. */
    Store store() {
        return store;
    }

    /** Takes it away, with everything in it. */
    @Override
    public void close() {
        dropping.run();
    }
}
