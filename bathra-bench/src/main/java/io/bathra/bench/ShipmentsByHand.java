package io.bathra.bench;

import io.bathra.bench.Shipment.Box;
import java.io.IOException;
import java.io.StringReader;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import org.postgresql.PGConnection;

/** Stores shipments and their boxes in plain JDBC, in the usual way and in the fastest. */
final class ShipmentsByHand {
    private static final int PORTION = 1_000;

    private final String database;
    private final Connection connection;

    ShipmentsByHand(String database, Connection connection) {
        this.database = database;
        this.connection = connection;
    }

    /** Gives the columns of one row to a statement. */
    private interface Binding<T> {
        void bind(PreparedStatement statement, int from, T row) throws SQLException;
    }

    /** Takes the key that a row was given. */
    private interface Keep<T> {
        void keep(T row, long key);
    }

    private static void bind(PreparedStatement statement, int from, Shipment shipment) throws SQLException {
        statement.setString(from, shipment.code);
        statement.setObject(from + 1, shipment.eta);
    }

    private static void bind(PreparedStatement statement, int from, Box box, Shipment shipment) throws SQLException {
        statement.setString(from, box.label);
        statement.setInt(from + 1, box.kilos);
        statement.setBigDecimal(from + 2, box.price);
        statement.setLong(from + 3, shipment.id);
    }

    // ---- the usual way

    /**
     * Batches that ask for generated keys; the drivers of MariaDB and SQLite give none for a batch, so there each row
     * has its own statement.
     */
    void withGeneratedKeys(List<Shipment> graph) throws SQLException {
        generated(
                "insert into shipment (code, eta) values (?, ?)",
                graph,
                ShipmentsByHand::bind,
                (shipment, key) -> shipment.id = key);
        generated(
                "insert into box (label, kilos, price, shipment_id) values (?, ?, ?, ?)",
                boxes(graph),
                (statement, from, box) -> bind(statement, from, box, shipment(box)),
                (box, key) -> box.id = key);
    }

    private <T> void generated(String sql, List<T> rows, Binding<T> binding, Keep<T> keep) throws SQLException {
        boolean batches = database.equals("postgresql") || database.equals("h2");
        if (!batches) {
            try (PreparedStatement insert = connection.prepareStatement(sql + " returning id")) {
                for (T row : rows) {
                    binding.bind(insert, 1, row);
                    try (ResultSet key = insert.executeQuery()) {
                        key.next();
                        keep.keep(row, key.getLong(1));
                    }
                }
            }
            return;
        }
        try (PreparedStatement insert = connection.prepareStatement(sql, Statement.RETURN_GENERATED_KEYS)) {
            for (int from = 0; from < rows.size(); from += PORTION) {
                List<T> portion = rows.subList(from, Math.min(rows.size(), from + PORTION));
                for (T row : portion) {
                    binding.bind(insert, 1, row);
                    insert.addBatch();
                }
                insert.executeBatch();
                try (ResultSet keys = insert.getGeneratedKeys()) {
                    for (T row : portion) {
                        keys.next();
                        keep.keep(row, keys.getLong("id"));
                    }
                }
            }
        }
    }

    // ---- the fastest way

    /**
     * Keys reserved in one statement a table, then COPY on PostgreSQL, a batch on MariaDB, many rows a statement
     * elsewhere.
     */
    void withReservedKeys(List<Shipment> graph) throws SQLException, IOException {
        List<Box> boxes = boxes(graph);
        long[] keys = reserve("shipment", graph.size());
        for (int i = 0; i < keys.length; i++) {
            graph.get(i).id = keys[i];
        }
        keys = reserve("box", boxes.size());
        for (int i = 0; i < keys.length; i++) {
            boxes.get(i).id = keys[i];
        }
        if (database.equals("postgresql")) {
            copy(graph, boxes);
            return;
        }
        insert("shipment (id, code, eta)", 3, graph, (statement, from, shipment) -> {
            statement.setLong(from, shipment.id);
            bind(statement, from + 1, shipment);
        });
        insert("box (id, label, kilos, price, shipment_id)", 5, boxes, (statement, from, box) -> {
            statement.setLong(from, box.id);
            bind(statement, from + 1, box, shipment(box));
        });
    }

    private long[] reserve(String table, int count) throws SQLException {
        if (database.equals("sqlite")) {
            try (Statement statement = connection.createStatement();
                    ResultSet last = statement.executeQuery("update sqlite_sequence set seq = seq + " + count
                            + " where name = '" + table + "' returning seq")) {
                last.next();
                long end = last.getLong(1);
                long[] keys = new long[count];
                for (int i = 0; i < count; i++) {
                    keys[i] = end - count + 1 + i;
                }
                return keys;
            }
        }
        String sql = switch (database) {
            case "postgresql" ->
                "select nextval('" + table + "_id_seq'::regclass) from generate_series(1, " + count + ")";
            case "h2" -> "select next value for " + table + "_seq from system_range(1, " + count + ")";
            default -> "select nextval(" + table + "_seq) from seq_1_to_1000000 limit " + count;
        };
        long[] keys = new long[count];
        try (Statement statement = connection.createStatement();
                ResultSet result = statement.executeQuery(sql)) {
            for (int i = 0; result.next(); i++) {
                keys[i] = result.getLong(1);
            }
        }
        return keys;
    }

    private <T> void insert(String columns, int count, List<T> rows, Binding<T> binding) throws SQLException {
        boolean batch = database.equals("mariadb");
        String row = "(" + String.join(", ", Collections.nCopies(count, "?")) + ")";
        for (int from = 0; from < rows.size(); from += PORTION) {
            List<T> portion = rows.subList(from, Math.min(rows.size(), from + PORTION));
            String values = batch ? row : String.join(", ", Collections.nCopies(portion.size(), row));
            try (PreparedStatement insert =
                    connection.prepareStatement("insert into " + columns + " values " + values)) {
                int next = 1;
                for (T one : portion) {
                    binding.bind(insert, next, one);
                    if (batch) {
                        insert.addBatch();
                    } else {
                        next += count;
                    }
                }
                if (batch) {
                    insert.executeBatch();
                } else {
                    insert.executeUpdate();
                }
            }
        }
    }

    private void copy(List<Shipment> graph, List<Box> boxes) throws SQLException, IOException {
        StringBuilder text = new StringBuilder();
        for (Shipment shipment : graph) {
            text.append(shipment.id).append('\t').append(shipment.code).append('\t');
            text.append(shipment.eta).append('\n');
        }
        PGConnection own = connection.unwrap(PGConnection.class);
        own.getCopyAPI().copyIn("copy shipment (id, code, eta) from stdin", new StringReader(text.toString()));
        text.setLength(0);
        for (Box box : boxes) {
            text.append(box.id).append('\t').append(box.label).append('\t');
            text.append(box.kilos)
                    .append('\t')
                    .append(box.price.toPlainString())
                    .append('\t');
            text.append(shipment(box).id).append('\n');
        }
        own.getCopyAPI()
                .copyIn(
                        "copy box (id, label, kilos, price, shipment_id) from stdin",
                        new StringReader(text.toString()));
    }

    private static List<Box> boxes(List<Shipment> graph) {
        List<Box> boxes = new ArrayList<>();
        graph.forEach(shipment -> boxes.addAll(shipment.boxes));
        return boxes;
    }

    private static Shipment shipment(Box box) {
        return Objects.requireNonNull(box.whole);
    }
}
