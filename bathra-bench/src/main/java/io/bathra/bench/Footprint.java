package io.bathra.bench;

import io.bathra.UnitOfWork;
import java.util.Arrays;
import java.util.List;

/**
 * What a tracked clean entity of ten columns needs beside the object itself: the heap with it, less the heap without.
 */
final class Footprint {
    private static final int ROWS = 100_000;

    private Footprint() {}

    /** The bytes that tracking takes. */
    static double bytes() {
        Stock stock = new Stock();
        stock.fill();
        long[] tracked = new long[5];
        long[] untracked = new long[5];
        for (int round = 0; round < 5; round++) {
            try (UnitOfWork work = stock.store.begin()) {
                work.from(Cargo.class).untracked().list(); // H2 keeps the last answer of a connection
                untracked[round] =
                        growth(() -> work.from(Cargo.class).untracked().list());
                tracked[round] = growth(() -> work.from(Cargo.class).list());
            }
        }
        stock.close();
        return (median(tracked) - median(untracked)) / (double) ROWS;
    }

    private interface Read {
        List<?> read();
    }

    private static long growth(Read read) {
        long before = Heap.used();
        List<?> kept = read.read();
        long after = Heap.used();
        return kept.size() == ROWS ? after - before : -1;
    }

    private static long median(long[] values) {
        return Arrays.stream(values).sorted().toArray()[values.length / 2];
    }
}
