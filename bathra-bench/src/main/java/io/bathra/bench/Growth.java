package io.bathra.bench;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import java.util.List;

/**
 * How the time and memory of one unit of work grow with its rows: shipments with nine boxes each, from 1,000 rows to
 * 1,000,000.
 */
public final class Growth {
    private static final int ROUNDS = 3;

    private Growth() {}

    /** Takes the name of a database. */
    public static void main(String[] args) {
        String database = args[0];
        try (Server server = Server.start(database);
                Store store = Store.open(Shipment.MODEL, server.source)) {
            store.schema().createMissing();
            for (int i = 0; i < 20; i++) {
                once(store, 1_000, false); // the VM warms up
            }
            System.out.printf("%-11s %10s %12s %12s %14s%n", database, "rows", "flush ms", "us a row", "bytes a row");
            for (int rows = 1_000; rows <= 1_000_000; rows *= 10) {
                long best = Long.MAX_VALUE;
                long bytes = 0;
                for (int round = 0; round < ROUNDS; round++) {
                    long[] result = once(store, rows, round == ROUNDS - 1);
                    best = Math.min(best, result[0]);
                    bytes = result[1];
                }
                System.out.printf(
                        "%-11s %,10d %,12.0f %12.2f %,14d%n", "", rows, best / 1e6, best / 1e3 / rows, bytes / rows);
            }
        }
        System.exit(0);
    }

    /** The nanoseconds of a flush, and the bytes that the unit keeps beside the objects when it is over. */
    private static long[] once(Store store, int rows, boolean measured) {
        Shipment.empty(store);
        List<Shipment> graph = Shipment.some(rows / 10);
        long before = measured ? Heap.used() : 0;
        try (UnitOfWork work = store.begin()) {
            long start = System.nanoTime();
            graph.forEach(work::add);
            work.flush();
            long nanos = System.nanoTime() - start;
            long after = measured ? Heap.used() : 0;
            work.commit();
            return new long[] {nanos, after - before};
        }
    }
}
