package io.bathra.bench.day;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.bathra.bench.Server;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Function;

/**
 * A day at the counter of a harbour office: small units of work, by Bathra and by hand in turn, on one thread and on
 * eight, beside the server and a millisecond each way from it. Takes the name of a database, the seconds for each of
 * these, and, for those who want only one, the number of threads and the milliseconds.
 */
public final class CounterDay {
    /** Begins a line of JSON in what is printed. */
    public static final String JSON = "json: ";

    private static final int COUNTED = 20;
    private static final int PAIRS = 9;

    /**
     * Before time is taken, both sides do so many hundreds of pieces of work in memory: the virtual machine compiles for
     * good what was called some ten thousand times, which a small server does in its first minutes, and a benchmark of a
     * few seconds would never see.
     */
    private static final int WARMING = 400;

    private final String database;
    private final Server server;
    private final AtomicInteger numbers = new AtomicInteger();

    CounterDay(String database, Server server) {
        this.database = database;
        this.server = server;
    }

    /** Prints a table for each number of threads and each length of the line, and a line of JSON with each. */
    public static void main(String[] args) throws Exception {
        double seconds = Double.parseDouble(args[1]);
        if (seconds > 0) {
            warm();
        }
        try (Server server = Server.start(args[0])) {
            CounterDay day = new CounterDay(args[0], server);
            boolean remote = server.port() != 0;
            day.open();
            for (int millis : args.length > 3 ? new int[] {Integer.parseInt(args[3])} : new int[] {0, 1}) {
                for (int threads : args.length > 2 ? new int[] {Integer.parseInt(args[2])} : new int[] {1, 8}) {
                    if (millis == 0 || remote) {
                        day.run(threads, millis, seconds);
                    }
                }
            }
        }
        System.exit(0); // servers may have threads that wait for more
    }

    private static void warm() throws Exception {
        try (Server memory = Server.start("h2")) {
            CounterDay day = new CounterDay("h2", memory);
            day.open();
            try (HikariDataSource pool = memory.pool(0);
                    Store store = Store.open(Harbour.MODEL, pool);
                    Shift shift = new Shift(1, Kind.IN_ALL, day.numbers)) {
                Sides<Desk> desks = new Sides<>(new DeskByHand(pool, "h2"), new DeskByBathra(store));
                for (int turn = 0; turn < WARMING; turn++) {
                    pair(shift, desks, turn);
                }
            }
        }
    }

    void open() {
        try (Store store = Store.open(Harbour.MODEL, server.source())) {
            Harbour.open(store);
        }
    }

    /** What is done by hand and by Bathra, in this order. */
    private record Sides<T>(T byHand, T bathra) {}

    private void run(int threads, int millis, double seconds) throws Exception {
        if (server.port() == 0) {
            try (HikariDataSource pool = server.pool(0);
                    Store store = Store.open(Harbour.MODEL, pool)) {
                run(threads, millis, seconds, pool, store, null);
            }
            return;
        }
        try (DelayedLine counted = new DelayedLine(server.port(), millis * 1_000_000L);
                HikariDataSource pool = server.pool(millis == 0 ? server.port() : counted.port());
                Store store = Store.open(Harbour.MODEL, pool)) {
            run(threads, millis, seconds, pool, store, counted);
        }
    }

    private void run(int threads, int millis, double seconds, HikariDataSource pool, Store store, DelayedLine line)
            throws Exception {
        Sides<Desk> desks = new Sides<>(new DeskByHand(pool, database), new DeskByBathra(store));
        List<Sides<Shift.Turn>> turns = new ArrayList<>();
        try (Shift shift = new Shift(threads, millis == 0 ? Kind.IN_ALL : Kind.IN_ALL / 4, numbers)) {
            long start = System.nanoTime();
            int turn = 0;
            while (System.nanoTime() - start < seconds * 0.3e9) {
                pair(shift, desks, turn++);
            }
            start = System.nanoTime();
            while (turns.size() < PAIRS || System.nanoTime() - start < seconds * 0.7e9) {
                turns.add(pair(shift, desks, turn++));
            }
        }
        print(threads, millis, turns, counts(line));
    }

    /** The two sides take turns in who begins. */
    private static Sides<Shift.Turn> pair(Shift shift, Sides<Desk> desks, int turn) throws Exception {
        if (turn % 2 == 0) {
            Shift.Turn byHand = shift.turn(desks.byHand, turn);
            return new Sides<>(byHand, shift.turn(desks.bathra, turn));
        }
        Shift.Turn bathra = shift.turn(desks.bathra, turn);
        return new Sides<>(shift.turn(desks.byHand, turn), bathra);
    }

    /** Statements and round trips that one piece of a kind needs. */
    private record Counts(double statements, double trips) {}

    /** Counts by itself, so that counting costs nothing while time is taken. */
    private Map<Kind, Sides<Counts>> counts(DelayedLine line) throws Exception {
        Map<Kind, Sides<Counts>> counts = new EnumMap<>(Kind.class);
        try (HikariDataSource pool = server.pool(line == null ? 0 : line.port())) {
            CountedStatements counted = new CountedStatements(pool);
            try (Store store = Store.open(Harbour.MODEL, counted.source())) {
                Desk byHand = new DeskByHand(counted.source(), database);
                Desk bathra = new DeskByBathra(store);
                for (Kind kind : Kind.values()) {
                    counts.put(
                            kind, new Sides<>(count(kind, byHand, counted, line), count(kind, bathra, counted, line)));
                }
            }
        }
        return counts;
    }

    private Counts count(Kind kind, Desk desk, CountedStatements counted, DelayedLine line) throws Exception {
        long statements = 0;
        long trips = 0;
        for (int i = -COUNTED; i < COUNTED; i++) { // the first half prepares what is prepared once
            if (i == 0) {
                statements = counted.executed();
                trips = line == null ? 0 : line.trips();
            }
            kind.on(desk, numbers.incrementAndGet());
        }
        return new Counts(
                (double) (counted.executed() - statements) / COUNTED,
                line == null ? Double.NaN : (double) (line.trips() - trips) / COUNTED);
    }

    private void print(int threads, int millis, List<Sides<Shift.Turn>> turns, Map<Kind, Sides<Counts>> counts) {
        double throughput = median(turns, turn -> (double) turn.byHand.nanos() / turn.bathra.nanos());
        double cpu = median(turns, turn -> (double) turn.bathra.cpu() / turn.byHand.cpu());
        double bytes = median(turns, turn -> (double) turn.bathra.bytes() / turn.byHand.bytes());
        String place = text(
                "%s, %d thread%s, %s",
                database, threads, threads == 1 ? "" : "s", millis == 0 ? "no network" : "1 ms away");
        System.out.println();
        System.out.println(place);
        System.out.printf(
                "%-31s %19s %19s %15s %9s %9s%n",
                "by hand, then Bathra", "median µs", "99 of 100 in µs", "CPU µs", "KB", "statements, trips");
        for (Kind kind : Kind.values()) {
            Tally byHand = new Tally();
            Tally bathra = new Tally();
            for (Sides<Shift.Turn> turn : turns) {
                byHand.add(turn.byHand.tallies().get(kind));
                bathra.add(turn.bathra.tallies().get(kind));
            }
            Sides<Counts> count = counts.get(kind);
            System.out.printf(
                    Locale.ROOT,
                    "%-31s %,9.0f %,9.0f %,9.0f %,9.0f %,7.0f %,7.0f %,4.0f %,4.0f  %.1f %.1f%s%n",
                    kind.words,
                    byHand.micros(0.5),
                    bathra.micros(0.5),
                    byHand.micros(0.99),
                    bathra.micros(0.99),
                    byHand.cpuMicros(),
                    bathra.cpuMicros(),
                    byHand.bytesEach() / 1e3,
                    bathra.bytesEach() / 1e3,
                    count.byHand.statements,
                    count.bathra.statements,
                    Double.isNaN(count.byHand.trips)
                            ? ""
                            : text(", %.1f %.1f", count.byHand.trips, count.bathra.trips));
        }
        System.out.println(text(
                "the whole day, Bathra to by hand: throughput %.2f, CPU %.2f, allocation %.2f (%d pairs)",
                throughput, cpu, bytes, turns.size()));
        System.out.println(JSON
                + text(
                        "{\"counter\": \"%s\", \"threads\": %d, \"millisEachWay\": %d, \"throughput\": %.3f, \"cpu\": %.3f,"
                                + " \"allocation\": %.3f}",
                        database, threads, millis, throughput, cpu, bytes));
    }

    private static double median(List<Sides<Shift.Turn>> turns, Function<Sides<Shift.Turn>, Double> ratio) {
        double[] all = turns.stream().mapToDouble(ratio::apply).toArray();
        Arrays.sort(all);
        return all[all.length / 2];
    }

    private static String text(String format, Object... values) {
        return String.format(Locale.ROOT, format, values);
    }
}
