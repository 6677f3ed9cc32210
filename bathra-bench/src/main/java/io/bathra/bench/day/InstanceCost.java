package io.bathra.bench.day;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.bathra.bench.Heap;
import io.bathra.bench.Server;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * What a store needs in each instance of a program: heap when it is open, heap once it has done each kind of work at
 * the counter, and threads. Takes the name of a database whose rows are not in the same heap.
 */
public final class InstanceCost {
    private static final int STORES = 20;

    private InstanceCost() {}

    public static void main(String[] args) throws Exception {
        try (Server server = Server.start(args[0])) {
            AtomicInteger numbers = new AtomicInteger();
            new CounterDay(args[0], server).open();
            try (HikariDataSource pool = server.pool(server.port())) {
                hundredPieces(Store.open(Harbour.MODEL, pool), numbers); // loads the classes
                int threads = Thread.activeCount();
                long before = Heap.used();
                List<Store> stores = new ArrayList<>();
                for (int i = 0; i < STORES; i++) {
                    stores.add(Store.open(Harbour.MODEL, pool));
                }
                long opened = Heap.used();
                for (Store store : stores) {
                    hundredPieces(store, numbers);
                }
                long worked = Heap.used();
                System.out.printf(
                        "a store for 7 entities: %d KB when it is open, %d KB after a hundred pieces of work; %d threads%n",
                        (opened - before) / STORES / 1024,
                        (worked - before) / stores.size() / 1024,
                        Thread.activeCount() - threads);
            }
        }
        System.exit(0);
    }

    private static void hundredPieces(Store store, AtomicInteger numbers) throws Exception {
        Desk desk = new DeskByBathra(store);
        for (Kind kind : Kind.hundred()) {
            kind.on(desk, numbers.incrementAndGet());
        }
    }
}
