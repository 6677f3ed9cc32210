package io.bathra.bench;

import io.bathra.UnitOfWork;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Level;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.TearDown;

/** Looks for changes among a hundred thousand entities, of which none has changed. */
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
public class FindChanges {
    /** A unit that has read all, and copies of all. */
    @State(Scope.Benchmark)
    public static class Read {
        UnitOfWork work;
        List<Cargo> now;
        List<Cargo> before;

        @Setup(Level.Trial)
        public void read(Stock stock) {
            work = stock.store.begin();
            now = work.from(Cargo.class).list();
            before = new ArrayList<>(stock.store.call(
                    other -> other.from(Cargo.class).untracked().list()));
        }

        @TearDown(Level.Trial)
        public void close() {
            work.close();
        }
    }

    @Benchmark
    public int byHand(Read read) {
        int changed = 0;
        for (int i = 0; i < read.now.size(); i++) {
            Cargo now = read.now.get(i);
            Cargo before = read.before.get(i);
            boolean same = now.kilos == before.kilos
                    && now.volume == before.volume
                    && now.sealed == before.sealed
                    && now.kind == before.kind
                    && Objects.equals(now.id, before.id)
                    && now.serial.equals(before.serial)
                    && now.note.equals(before.note)
                    && now.price.compareTo(before.price) == 0
                    && now.packed.equals(before.packed)
                    && now.seen.equals(before.seen);
            changed += same ? 0 : 1;
        }
        return changed;
    }

    @Benchmark
    public int bathra(Read read) {
        return read.work.changes().size();
    }
}
