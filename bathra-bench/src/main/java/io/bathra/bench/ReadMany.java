package io.bathra.bench;

import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.the;

import io.bathra.UnitOfWork;
import java.math.BigDecimal;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;

/** A hundred thousand rows: as tracked entities, as untracked ones, as records. */
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
public class ReadMany {
    @Benchmark
    public Object entitiesJdbc(Stock stock) throws SQLException {
        return stock.byHand.all();
    }

    @Benchmark
    public Object entitiesTracked(Stock stock) {
        try (UnitOfWork work = stock.store.begin()) {
            return work.from(Cargo.class).list();
        }
    }

    @Benchmark
    public Object entitiesUntracked(Stock stock) {
        try (UnitOfWork work = stock.store.begin()) {
            return work.from(Cargo.class).untracked().list();
        }
    }

    @Benchmark
    public Object recordsJdbc(Stock stock) throws SQLException {
        return stock.byHand.rows();
    }

    @Benchmark
    public Object recordsByName(Stock stock) {
        try (UnitOfWork work = stock.store.begin()) {
            return work.from(Cargo.class).as(CargoRow.class).list();
        }
    }

    @Benchmark
    public Object recordsByConstructor(Stock stock) {
        try (UnitOfWork work = stock.store.begin()) {
            return work.from(Cargo.class)
                    .as(
                            Part::new,
                            the(Cargo::id),
                            the(Cargo::serial),
                            number(Cargo::kilos),
                            the(Cargo::price),
                            the(Cargo::seen))
                    .list();
        }
    }

    record Part(long id, String serial, int kilos, BigDecimal price, LocalDateTime seen) {}

    @Benchmark
    public Object partsJdbc(Stock stock) throws SQLException {
        return stock.byHand.parts();
    }
}
