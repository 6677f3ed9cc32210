package io.bathra.bench;

import io.bathra.Store;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
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

/**
 * Stores shipments with nine boxes each, ten thousand of them if nothing else is said; all keys are drawn by the
 * database.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SingleShotTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
public class FlushGraph {
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
        Shipment.empty(store);
    }

    @TearDown(Level.Trial)
    public void close() {
        store.close();
        server.close();
    }

    @Benchmark
    public Object bathra() {
        store.run(work -> graph.forEach(work::add));
        return graph;
    }

    @Benchmark
    public Object withGeneratedKeys() throws SQLException, IOException {
        return byHand(hand -> hand.withGeneratedKeys(graph));
    }

    @Benchmark
    public Object withReservedKeys() throws SQLException, IOException {
        return byHand(hand -> hand.withReservedKeys(graph));
    }

    private interface Way {
        void store(ShipmentsByHand hand) throws SQLException, IOException;
    }

    private Object byHand(Way way) throws SQLException, IOException {
        try (Connection connection = server.source.getConnection()) {
            boolean sqlite = database.equals("sqlite");
            if (sqlite) {
                connection.createStatement().execute("pragma foreign_keys = on");
            }
            connection.setAutoCommit(false);
            way.store(new ShipmentsByHand(database, connection));
            connection.commit();
            connection.setAutoCommit(true);
        }
        return graph;
    }
}
