package io.bathra.bench.day;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.bathra.bench.Server;
import io.bathra.micrometer.Observations;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.core.instrument.observation.DefaultMeterObservationHandler;
import io.micrometer.core.instrument.simple.SimpleMeterRegistry;
import io.micrometer.observation.ObservationRegistry;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * What it costs to observe the counter's day: the same store without, with observations that nobody hears, and with
 * timers. They take turns on one thread. Takes the name of a database and the seconds.
 */
public final class ObservedDay {
    private static final int WARMING = 60;

    private ObservedDay() {}

    public static void main(String[] args) throws Exception {
        double seconds = Double.parseDouble(args[1]);
        try (Server server = Server.start(args[0])) {
            new CounterDay(args[0], server).open();
            try (HikariDataSource pool = server.pool(server.port());
                    Store store = Store.open(Harbour.MODEL, pool)) {
                MeterRegistry meters = new SimpleMeterRegistry();
                ObservationRegistry timing = ObservationRegistry.create();
                timing.observationConfig().observationHandler(new DefaultMeterObservationHandler(meters));
                List<Desk> desks = List.of(
                        new DeskByBathra(store),
                        new DeskByBathra(
                                Observations.of(ObservationRegistry.NOOP).on(store)),
                        new DeskByBathra(
                                Observations.of(timing).counting(meters).on(store)));
                run(desks, seconds);
            }
        }
        System.exit(0);
    }

    private static void run(List<Desk> desks, double seconds) throws Exception {
        List<List<Shift.Turn>> turns = new ArrayList<>();
        try (Shift shift = new Shift(1, Kind.IN_ALL, new AtomicInteger())) {
            long start = System.nanoTime();
            for (int turn = 0; turn < WARMING || System.nanoTime() - start < seconds * 1e9; turn++) {
                List<Shift.Turn> each = new ArrayList<>();
                for (Desk desk : desks) {
                    each.add(shift.turn(desk, turn));
                }
                if (turn >= WARMING / 2) {
                    turns.add(each);
                }
            }
        }
        String[] names = {"not observed", "nobody hears", "timers"};
        for (int i = 0; i < names.length; i++) {
            int one = i;
            System.out.printf(
                    Locale.ROOT,
                    "%-14s CPU %.2f, allocation %.2f, time %.2f (%d turns of a hundred pieces)%n",
                    names[i],
                    median(turns.stream()
                            .mapToDouble(each ->
                                    (double) each.get(one).cpu() / each.get(0).cpu())
                            .toArray()),
                    median(turns.stream()
                            .mapToDouble(each ->
                                    (double) each.get(one).bytes() / each.get(0).bytes())
                            .toArray()),
                    median(turns.stream()
                            .mapToDouble(each ->
                                    (double) each.get(one).nanos() / each.get(0).nanos())
                            .toArray()),
                    turns.size());
        }
    }

    private static double median(double[] values) {
        Arrays.sort(values);
        return values[values.length / 2];
    }
}
