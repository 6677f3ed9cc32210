package io.bathra.cli.measure;

import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.model.EntityOutline;
import io.bathra.trace.StatementListener;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.function.LongConsumer;

/**
 * Runs one way after the other, each on a table in the same state, after a few rows that are not counted. A short one
 * is run several times, since the virtual machine compiles meanwhile, and the middle run counts.
 */
public final class Measure {
    private static final long WARM_ROWS = 500;
    private static final long WARM_NANOS = 1_000_000_000L;
    private static final long ENOUGH_NANOS = 1_000_000_000L;
    private static final int MOST_RUNS = 5;

    /** Who watches, and may stop it. */
    public interface Watcher {
        /** A way begins. */
        void begins(String words, int number, int of, long rows);

        /** Rows are done. */
        void did(long rows);

        /** Throws when the work is to be stopped. */
        void check();
    }

    private final Store store;
    private final Ways ways;
    private final EntityOutline entity;
    private final long rows;
    private final long seconds;
    private final Watcher watcher;
    private boolean untouched;

    /** How many rows there are to work with: those that a table could be filled with in the time. */
    private long there;

    private Measure(Store store, EntityOutline entity, long rows, long seconds, Watcher watcher) {
        this.store = store;
        this.entity = entity;
        this.rows = rows;
        this.seconds = seconds;
        this.watcher = watcher;
        store.schema().createMissing();
        this.ways = new Ways(store, new RowMaker(store.model(), entity, rows), rows);
    }

    /**
     * Measures all ways that make sense for an entity.
     *
     * @param scratch where
     * @param rows how many for each way
     * @param seconds how long each way may take
     * @throws BathraException when no rows can be made up for the entity
     */
    public static Report of(Scratch scratch, EntityOutline entity, long rows, long seconds, Watcher watcher) {
        return new Measure(scratch.store(), entity, rows, seconds, watcher).run();
    }

    private Report run() {
        List<Report.Result> results = new ArrayList<>();
        List<Way> all = ways.all();
        for (Way way : all) {
            watcher.check();
            watcher.begins(way.words(), results.size() + 1, all.size(), rows);
            try {
                results.add(measured(way));
            } catch (BathraException e) {
                untouched = false;
                results.add(Report.failed(way, firstLine(String.valueOf(e.getMessage()))));
            }
        }
        return new Report(store.databaseName(), entity.name(), rows, seconds, results, ways.without());
    }

    private static String firstLine(String message) {
        return message.lines()
                .limit(2)
                .map(String::strip)
                .reduce((one, two) -> one + " " + two)
                .orElse("");
    }

    private Report.Result measured(Way way) {
        prepare(way);
        run(way, new Meter(Math.min(there, WARM_ROWS), WARM_NANOS, done -> {}, watcher::check));
        List<Meter> runs = new ArrayList<>();
        long begun = System.nanoTime();
        do {
            prepare(way);
            LongConsumer progress = runs.isEmpty() ? watcher::did : done -> {};
            Meter meter = new Meter(there, seconds * 1_000_000_000L, progress, watcher::check);
            run(way, meter);
            runs.add(meter);
        } while (System.nanoTime() - begun < ENOUGH_NANOS && runs.size() < MOST_RUNS);
        runs.sort(Comparator.comparingDouble(run -> (double) run.nanos() / run.rows()));
        return Report.of(way, runs.get((runs.size() - 1) / 2), rows);
    }

    private void run(Way way, Meter meter) {
        Store heard = store.heardBy((StatementListener) meter);
        meter.begin();
        way.body().run(heard, meter);
        meter.end();
    }

    /** Those that only read find the table as the one before has left it. */
    private void prepare(Way way) {
        boolean reads = way.group() == Way.Group.READING;
        if (reads && untouched) {
            return;
        }
        ways.prepare(store);
        there = rows;
        if (way.filled()) {
            Meter filling = new Meter(rows, seconds * 1_000_000_000L, done -> {}, watcher::check);
            filling.begin();
            ways.fill(store, filling);
            there = filling.rows();
        }
        untouched = reads;
    }
}
