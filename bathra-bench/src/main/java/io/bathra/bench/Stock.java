package io.bathra.bench;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import org.jspecify.annotations.Nullable;
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

    private @Nullable EmbeddedPostgres server;
    HikariDataSource source;
    Store store;
    HandWritten byHand;

    @Setup(Level.Trial)
    public void fill() throws IOException {
        source = new HikariDataSource();
        if (database.equals("h2")) {
            source.setJdbcUrl("jdbc:h2:mem:stock");
        } else {
            server = EmbeddedPostgres.builder().start();
            source.setJdbcUrl(server.getJdbcUrl("postgres", "postgres"));
        }
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
    public void close() throws IOException {
        store.close();
        source.close();
        if (server != null) {
            server.close();
        }
    }
}
