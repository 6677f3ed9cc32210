package io.bathra.bench;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import org.openjdk.jmh.annotations.Level;
import org.openjdk.jmh.annotations.Param;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.TearDown;

/** A database with many cargoes, reached by Bathra and by hand. */
@State(Scope.Benchmark)
public class Stock {
    static final int ROWS = 100_000;

    @Param({"h2", "postgresql"})
    public String database = "h2";

    private Server server;
    HikariDataSource source;
    Store store;
    HandWritten byHand;

    @Setup(Level.Trial)
    public void fill() {
        server = Server.start(database);
        source = server.source;
        store = Store.open(Cargo.MODEL, source);
        store.schema().createMissing();
        for (int from = 0; from < ROWS; from += 10_000) {
            int first = from;
            store.run(work -> {
                for (int i = first; i < first + 10_000; i++) {
                    work.add(new Cargo(i));
                }
            });
        }
        byHand = new HandWritten(source);
    }

    @TearDown(Level.Trial)
    public void close() {
        store.close();
        server.close();
    }
}
