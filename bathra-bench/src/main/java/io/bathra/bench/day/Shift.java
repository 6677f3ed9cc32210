package io.bathra.bench.day;

import com.sun.management.ThreadMXBean;
import java.lang.management.ManagementFactory;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.ThreadFactory;
import java.util.concurrent.atomic.AtomicInteger;

/** Clerks who work at the same time; each piece of their work is measured by its own thread. */
final class Shift implements AutoCloseable {
    private static final ThreadMXBean THREADS = (ThreadMXBean) ManagementFactory.getThreadMXBean();
    private static final Kind[] KINDS = Kind.hundred();

    /** What one turn of all clerks took. */
    record Turn(long nanos, Map<Kind, Tally> tallies) {
        long cpu() {
            return tallies.values().stream().mapToLong(Tally::cpu).sum();
        }

        long bytes() {
            return tallies.values().stream().mapToLong(Tally::bytes).sum();
        }
    }

    private final int clerks;
    private final int pieces;
    private final ExecutorService threads;
    private final AtomicInteger numbers;

    /**
     * A shift.
     *
     * @param pieces how many each clerk does in a turn
     * @param numbers where the numbers of new calls come from
     */
    Shift(int clerks, int pieces, AtomicInteger numbers) {
        this.clerks = clerks;
        this.pieces = pieces;
        this.numbers = numbers;
        ThreadFactory daemons = work -> {
            Thread thread = new Thread(work, "clerk");
            thread.setDaemon(true);
            return thread;
        };
        threads = Executors.newFixedThreadPool(clerks, daemons);
    }

    /** The turn of this number: the kinds depend on it alone, so that both sides meet the same. */
    Turn turn(Desk desk, int turn) throws Exception {
        List<Future<Map<Kind, Tally>>> all = new ArrayList<>();
        long start = System.nanoTime();
        for (int clerk = 0; clerk < clerks; clerk++) {
            int first = (turn * clerks + clerk) * pieces;
            all.add(threads.submit(() -> work(desk, first)));
        }
        Map<Kind, Tally> sum = new EnumMap<>(Kind.class);
        for (Future<Map<Kind, Tally>> one : all) {
            one.get()
                    .forEach((kind, tally) ->
                            sum.computeIfAbsent(kind, each -> new Tally()).add(tally));
        }
        return new Turn(System.nanoTime() - start, sum);
    }

    private Map<Kind, Tally> work(Desk desk, int first) throws Exception {
        Map<Kind, Tally> tallies = new EnumMap<>(Kind.class);
        for (Kind kind : Kind.values()) {
            tallies.put(kind, new Tally());
        }
        for (int piece = first; piece < first + pieces; piece++) {
            Kind kind = KINDS[piece % KINDS.length];
            int number = numbers.incrementAndGet();
            long bytes = THREADS.getCurrentThreadAllocatedBytes();
            long cpu = THREADS.getCurrentThreadCpuTime();
            long start = System.nanoTime();
            kind.on(desk, number);
            long nanos = System.nanoTime() - start;
            tallies.get(kind)
                    .add(
                            nanos,
                            THREADS.getCurrentThreadCpuTime() - cpu,
                            THREADS.getCurrentThreadAllocatedBytes() - bytes);
        }
        return tallies;
    }

    @Override
    public void close() {
        threads.shutdownNow();
    }
}
