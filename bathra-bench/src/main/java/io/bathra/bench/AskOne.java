package io.bathra.bench;

import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;

import io.bathra.UnitOfWork;
import io.bathra.query.Query;
import java.sql.SQLException;
import java.time.LocalDate;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;

/** A query for one row by several conditions, and what its SQL costs to make. */
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
public class AskOne {
    @Benchmark
    public @Nullable Object jdbc(Stock stock) throws SQLException {
        return stock.byHand.byConditions(key());
    }

    @Benchmark
    public Object bathra(Stock stock) {
        try (UnitOfWork work = stock.store.begin()) {
            return query(work).list();
        }
    }

    @Benchmark
    public Object textAlone(Stock stock) {
        try (UnitOfWork work = stock.store.begin()) {
            return query(work).sql();
        }
    }

    @Benchmark
    public Object questionAlone(Stock stock) {
        try (UnitOfWork work = stock.store.begin()) {
            return query(work);
        }
    }

    private static Query<Cargo> query(UnitOfWork work) {
        return work.from(Cargo.class)
                .where(
                        the(Cargo::id).is(key()),
                        text(Cargo::serial).startsWith("SER"),
                        number(Cargo::kilos).atLeast(0),
                        the(Cargo::packed).above(LocalDate.of(2025, 1, 1)))
                .orderBy(text(Cargo::serial).ascending(), the(Cargo::seen).descending())
                .limit(10);
    }

    private static long key() {
        return 1 + ThreadLocalRandom.current().nextInt(Stock.ROWS);
    }
}
