package io.bathra.bench;

import io.bathra.Store;
import io.bathra.jdbc.ConstraintCatalogue;
import io.bathra.jdbc.Database;
import io.bathra.jdbc.Recorder;
import io.bathra.jdbc.RowWriter;
import io.bathra.jdbc.Settings;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.sql.Dialect;
import io.bathra.sql.WriteForm;
import io.bathra.trace.Operation;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * From how many rows on a way of writing pays: each way that a dialect knows, with the same numbers of rows of ten
 * columns. It looks inside the library, since from outside the thresholds cannot be passed by.
 */
public final class WritePaths {
    private static final int[] ROWS = {1, 2, 3, 5, 10, 30, 100, 200, 500, 1_000, 5_000};

    /** Numbers of rows for which a dialect may choose another way. */
    private static final int[] CHOICES = {1, 3, 10, 499, 100_000};

    private static final int LEAST_ROUNDS = 15;
    private static final int ROWS_IN_ALL = 40_000;

    private final Database database;
    private final Transaction transaction;
    private final ModelEntity<?> entity = Mapping.of(Cargo.MODEL).entity(Cargo.class);

    private WritePaths(Database database, Transaction transaction) {
        this.database = database;
        this.transaction = transaction;
    }

    /** Takes the name of a database. */
    public static void main(String[] args) throws SQLException {
        try (Server server = Server.start(args[0]);
                Store store = Store.open(Cargo.MODEL, server.source)) {
            store.schema().createMissing();
            Database database;
            try (Connection connection = server.source.getConnection()) {
                database = Database.of(connection, null);
            }
            Settings settings = Settings.PLAIN;
            try (Transaction transaction = new Transaction(
                    server.source,
                    database,
                    new ConstraintCatalogue(Mapping.of(Cargo.MODEL)),
                    new Recorder(1, null),
                    settings,
                    null,
                    false,
                    null)) {
                new WritePaths(database, transaction).measure();
            }
        }
        System.exit(0);
    }

    private void measure() {
        Map<Operation, Map<String, WriteForm>> ways = new LinkedHashMap<>();
        for (Operation operation : List.of(Operation.INSERT, Operation.UPDATE, Operation.DELETE)) {
            ways.put(operation, ways(operation));
        }
        System.out.printf("%-12s", "us for rows");
        ways.forEach((operation, forms) -> forms.keySet()
                .forEach(name -> System.out.printf(" %16s", operation.name().charAt(0) + " " + name)));
        System.out.println();
        round(ways, 1_000, new LinkedHashMap<>());
        for (int rows : ROWS) {
            int rounds = Math.max(LEAST_ROUNDS, Math.min(800, ROWS_IN_ALL / rows));
            Map<String, List<Double>> times = new LinkedHashMap<>();
            for (int round = 0; round < rounds; round++) {
                round(ways, rows, times);
            }
            System.out.printf("%,-12d", rows);
            times.values().forEach(all -> {
                double median = all.stream().sorted().toList().get(all.size() / 2);
                System.out.printf(Locale.ROOT, " %,16.0f", median);
            });
            System.out.println();
        }
    }

    /** The ways that the dialect would choose for some number of rows, and what it does where a driver cannot. */
    private Map<String, WriteForm> ways(Operation operation) {
        Dialect dialect = database.dialect();
        List<StoredAttribute> columns = new ArrayList<>(entity.stored());
        if (operation == Operation.UPDATE) {
            columns.remove(0);
        }
        Map<String, WriteForm> ways = new LinkedHashMap<>();
        for (int rows : CHOICES) {
            WriteForm form = dialect.forms().form(operation, entity.columnSets().of(columns), rows);
            ways.putIfAbsent(form.binding().toString(), form);
        }
        return ways;
    }

    /**
     * Inserts by each way; the rows of the last are updated by each way, and removed by each way after being there
     * again.
     */
    private void round(Map<Operation, Map<String, WriteForm>> ways, int rows, Map<String, List<Double>> times) {
        List<@Nullable Object[]> values = new ArrayList<>();
        for (int i = 0; i < rows; i++) {
            values.add(row(i, 0));
        }
        WriteForm insert = ways.get(Operation.INSERT).values().iterator().next();
        WriteForm delete = ways.get(Operation.DELETE).values().iterator().next();
        ways.get(Operation.INSERT).forEach((name, form) -> {
            time(times, "insert " + name, form, values);
            write(delete, values);
        });
        write(insert, values);
        ways.get(Operation.UPDATE).forEach((name, form) -> {
            List<@Nullable Object[]> changed = new ArrayList<>();
            for (int i = 0; i < rows; i++) {
                changed.add(row(i, name.length()));
            }
            time(times, "update " + name, form, changed);
        });
        write(delete, values);
        ways.get(Operation.DELETE).forEach((name, form) -> {
            write(insert, values);
            time(times, "delete " + name, form, values);
        });
        transaction.rollback();
    }

    private @Nullable Object[] row(int number, int change) {
        Cargo cargo = new Cargo(number + change);
        cargo.id = 1L + number;
        return entity.stored().stream()
                .map(attribute -> attribute.shape().kept(attribute.get(cargo)))
                .toArray();
    }

    private void time(Map<String, List<Double>> times, String name, WriteForm form, List<@Nullable Object[]> rows) {
        long start = System.nanoTime();
        write(form, rows);
        times.computeIfAbsent(name, n -> new ArrayList<>()).add((System.nanoTime() - start) / 1e3);
    }

    private void write(WriteForm form, List<@Nullable Object[]> rows) {
        long written = new RowWriter(transaction).write("paths", form, rows);
        if (written != rows.size()) {
            throw new IllegalStateException(form.sql().apply(1) + " wrote " + written + " of " + rows.size() + " rows");
        }
    }
}
