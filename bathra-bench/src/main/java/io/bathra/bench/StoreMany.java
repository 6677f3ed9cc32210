package io.bathra.bench;

import static io.bathra.bulk.On.on;

import io.bathra.Store;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
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
 * Stores many containers in bulk: inserts all, or upserts them where half are there and half of those have changed. The
 * table is empty before an insert, and half full before an upsert.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SingleShotTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
public class StoreMany {
    @Param({"postgresql", "h2", "mariadb", "sqlite"})
    public String database = "postgresql";

    @Param("100000")
    public int rows = 100_000;

    @Param({"false", "true"})
    public boolean upsert;

    private Server server;
    private Store store;

    @Setup(Level.Trial)
    public void start() {
        server = Server.start(database);
        store = Store.open(Container.MODEL, server.source);
        store.schema().createMissing();
    }

    @Setup(Level.Invocation)
    public void prepare() throws SQLException {
        boolean truncates = !database.equals("sqlite");
        store.sql(truncates ? "truncate table container" : "delete from container")
                .execute();
        if (upsert) {
            store.bulk(Container.class).insert(Container.some(0, rows / 2));
        }
    }

    @TearDown(Level.Trial)
    public void close() {
        store.close();
        server.close();
    }

    @Benchmark
    public Object bathra() {
        return upsert
                ? store.bulk(Container.class).upsert(Container.changed(0, rows, 2), on(Container::serial))
                : store.bulk(Container.class).insert(Container.some(0, rows));
    }

    @Benchmark
    public Object fastest() throws SQLException, IOException {
        return byHand(hand -> hand.fastest(Container.changed(0, rows, upsert ? 2 : 10_000), upsert));
    }

    @Benchmark
    public Object batches() throws SQLException, IOException {
        return byHand(hand -> hand.batches(Container.changed(0, rows, upsert ? 2 : 10_000), upsert));
    }

    @Benchmark
    public Object oneByOne() throws SQLException, IOException {
        return byHand(hand -> hand.oneByOne(Container.changed(0, rows, upsert ? 2 : 10_000), upsert));
    }

    private interface Way {
        void store(ContainersByHand hand) throws SQLException, IOException;
    }

    private Object byHand(Way way) throws SQLException, IOException {
        try (Connection connection = server.source.getConnection()) {
            connection.setAutoCommit(false);
            way.store(new ContainersByHand(database, connection));
            connection.commit();
            connection.setAutoCommit(true);
            return this;
        }
    }
}
