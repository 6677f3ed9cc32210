package io.bathra.bench;

import io.bathra.UnitOfWork;
import java.sql.SQLException;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;

/** One entity by its key, in a transaction of its own. */
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
public class ReadOne {
    @Benchmark
    public @Nullable Object jdbc(Stock stock) throws SQLException {
        return stock.byHand.byKey(key());
    }

    @Benchmark
    public Object bathra(Stock stock) {
        try (UnitOfWork work = stock.store.begin()) {
            return work.require(Cargo.class, key());
        }
    }

    private static long key() {
        return 1 + ThreadLocalRandom.current().nextInt(Stock.ROWS);
    }
}
