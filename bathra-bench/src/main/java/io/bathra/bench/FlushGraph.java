package io.bathra.bench;

import io.bathra.Store;
import io.bathra.bench.Shipment.Box;
import java.io.IOException;
import java.io.StringReader;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Level;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Param;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.TearDown;
import org.postgresql.PGConnection;

/** Stores shipments with nine boxes each, ten thousand of them if nothing else is said; all keys are drawn by the database. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SingleShotTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
public class FlushGraph {
    private static final int BATCH = 1_000;
    private static final String SHIPMENT = "insert into shipment (code, eta) values (?, ?)";
    private static final String BOX = "insert into box (label, kilos, price, shipment_id) values (?, ?, ?, ?)";

    @Param({"postgresql", "h2", "mariadb", "sqlite"})
    public String database = "postgresql";

    @Param("10000")
    public int shipments = 10_000;

    private Server server;
    private Store store;
    private List<Shipment> graph;

    @Setup(Level.Trial)
    public void start() {
        server = Server.start(database);
        store = Store.open(Shipment.MODEL, server.source);
        store.schema().createMissing();
    }

    @Setup(Level.Invocation)
    public void empty() {
        graph = Shipment.some(shipments);
        store.run(work -> {
            work.from(Box.class).delete();
            work.from(Shipment.class).delete();
        });
    }

    @TearDown(Level.Trial)
    public void close() {
        store.close();
        server.close();
    }

    @Benchmark
    public Object bathra() {
        return store.call(work -> {
            graph.forEach(work::add);
            return work.flush();
        });
    }

    /** Portions of a thousand rows, with the keys that the driver gives back; those of MariaDB and SQLite give none for a batch. */
    @Benchmark
    public void batchesWithKeys() throws SQLException {
        try (Connection connection = server.source.getConnection()) {
            connection.setAutoCommit(false);
            try (PreparedStatement insert = connection.prepareStatement(SHIPMENT, new String[] {"id"})) {
                for (int from = 0; from < graph.size(); from += BATCH) {
                    List<Shipment> some = graph.subList(from, Math.min(graph.size(), from + BATCH));
                    for (Shipment shipment : some) {
                        insert.setString(1, shipment.code);
                        insert.setObject(2, shipment.eta);
                        insert.addBatch();
                    }
                    insert.executeBatch();
                    try (ResultSet keys = insert.getGeneratedKeys()) {
                        for (Shipment shipment : some) {
                            keys.next();
                            shipment.id = keys.getLong(1);
                        }
                    }
                }
            }
            try (PreparedStatement insert = connection.prepareStatement(BOX, new String[] {"id"})) {
                List<Box> some = new ArrayList<>();
                for (Shipment shipment : graph) {
                    for (Box box : shipment.boxes) {
                        insert.setString(1, box.label);
                        insert.setInt(2, box.kilos);
                        insert.setBigDecimal(3, box.price);
                        insert.setLong(4, shipment.id);
                        insert.addBatch();
                        some.add(box);
                        if (some.size() == BATCH) {
                            keys(insert, some);
                        }
                    }
                }
                if (!some.isEmpty()) {
                    keys(insert, some);
                }
            }
            connection.commit();
            connection.setAutoCommit(true);
        }
    }

    private static void keys(PreparedStatement insert, List<Box> some) throws SQLException {
        insert.executeBatch();
        try (ResultSet keys = insert.getGeneratedKeys()) {
            for (Box box : some) {
                keys.next();
                box.id = keys.getLong(1);
            }
        }
        some.clear();
    }

    /** Keys reserved in two statements, then two COPYs: the fastest way by hand. PostgreSQL alone. */
    @Benchmark
    public void copyWithReservedKeys() throws SQLException, IOException {
        if (!database.equals("postgresql")) {
            return;
        }
        try (Connection connection = server.source.getConnection()) {
            connection.setAutoCommit(false);
            List<Box> boxes = new ArrayList<>();
            graph.forEach(shipment -> boxes.addAll(shipment.boxes));
            List<Long> keys = reserve(connection, "shipment_id_seq", graph.size());
            for (int i = 0; i < keys.size(); i++) {
                graph.get(i).id = keys.get(i);
            }
            keys = reserve(connection, "box_id_seq", boxes.size());
            for (int i = 0; i < keys.size(); i++) {
                boxes.get(i).id = keys.get(i);
            }
            StringBuilder text = new StringBuilder();
            for (Shipment shipment : graph) {
                text.append(shipment.id).append('\t').append(shipment.code).append('\t');
                text.append(shipment.eta).append('\n');
            }
            PGConnection own = connection.unwrap(PGConnection.class);
            own.getCopyAPI().copyIn("copy shipment (id, code, eta) from stdin", new StringReader(text.toString()));
            text.setLength(0);
            for (Shipment shipment : graph) {
                for (Box box : shipment.boxes) {
                    text.append(box.id)
                            .append('\t')
                            .append(box.label)
                            .append('\t')
                            .append(box.kilos)
                            .append('\t');
                    text.append(box.price.toPlainString())
                            .append('\t')
                            .append(shipment.id)
                            .append('\n');
                }
            }
            own.getCopyAPI()
                    .copyIn(
                            "copy box (id, label, kilos, price, shipment_id) from stdin",
                            new StringReader(text.toString()));
            connection.commit();
            connection.setAutoCommit(true);
        }
    }

    private static List<Long> reserve(Connection connection, String sequence, int count) throws SQLException {
        List<Long> keys = new ArrayList<>(count);
        try (Statement statement = connection.createStatement();
                ResultSet result = statement.executeQuery(
                        "select nextval('" + sequence + "'::regclass) from generate_series(1, " + count + ")")) {
            while (result.next()) {
                keys.add(result.getLong(1));
            }
        }
        return keys;
    }
}
