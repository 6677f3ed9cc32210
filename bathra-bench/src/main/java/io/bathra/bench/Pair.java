package io.bathra.bench;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * A job that Bathra and something written by hand do in turn.
 *
 * @param name what is done
 * @param baseline what Bathra is compared with
 * @param targets the ratios to reach, Bathra's time by the other's, by database
 * @param repeat how many times the job is done for one time, so that the clock can tell
 * @param databases where it is done
 * @param start makes it ready on one of them
 */
record Pair(
        String name, String baseline, Map<String, Double> targets, int repeat, List<String> databases, Start start) {
    /** Makes both sides ready. */
    interface Start {
        Sides on(String database) throws Exception;
    }

    /** One side of the pair. */
    interface Side {
        Object run() throws Exception;
    }

    /**
     * Both sides, on a database that is there for them.
     *
     * @param before what is done before each run, and not counted
     */
    record Sides(Side before, Side byHand, Side bathra) {}

    /** Whether it belongs to the short profile: whatever has a target. */
    boolean isShort() {
        return !targets.isEmpty() && databases.size() > 1;
    }

    /** The ratio to reach on a database; 0 for none. */
    double target(String database) {
        return targets.getOrDefault(database, 0.0);
    }

    /** Where it is done in the short profile. */
    List<String> shortDatabases() {
        return databases.stream().filter(TWO::contains).toList();
    }

    private static final List<String> ALL = List.of("h2", "sqlite", "postgresql", "mariadb");
    private static final List<String> TWO = List.of("h2", "postgresql");
    private static final Map<String, Double> BOTH = Map.of("h2", 1.1, "postgresql", 1.1);
    private static final Map<String, Double> UPSERT =
            Map.of("h2", 1.15, "sqlite", 1.15, "postgresql", 1.15, "mariadb", 1.15);

    private static final Map<String, Double> FOUND =
            Map.of("h2", 1.2, "sqlite", 1.2, "postgresql", 1.2, "mariadb", 1.2);

    /** All jobs. */
    static List<Pair> all() {
        ReadMany many = new ReadMany();
        List<Pair> all = new ArrayList<>();
        for (ChangeFound.By by : ChangeFound.By.values()) {
            all.add(changed(by));
        }
        all.addAll(List.of(
                stock(
                        "one entity by key",
                        Map.of("h2", 1.25),
                        1_000,
                        stock -> new ReadOne().jdbc(stock),
                        stock -> new ReadOne().bathra(stock)),
                stock(
                        "one row by four conditions, ordered",
                        Map.of(),
                        1_000,
                        stock -> new AskOne().jdbc(stock),
                        stock -> new AskOne().bathra(stock)),
                stock(
                        "100,000 entities, tracked",
                        Map.of("h2", 1.3, "postgresql", 1.1),
                        1,
                        many::entitiesJdbc,
                        many::entitiesTracked),
                stock("100,000 rows into records by name", BOTH, 1, many::recordsJdbc, many::recordsByName),
                stock("100,000 rows into records by constructor", BOTH, 1, many::partsJdbc, many::recordsByConstructor),
                new Pair(
                        "changes among 100,000 clean entities",
                        "a loop that compares",
                        Map.of("h2", 2.0),
                        1,
                        List.of("h2"),
                        database -> {
                            FindChanges.Read read = new FindChanges.Read();
                            read.read(stock(database));
                            FindChanges find = new FindChanges();
                            return new Sides(() -> read, () -> find.byHand(read), () -> find.bathra(read));
                        }),
                new Pair(
                        "flush of 100,000 rows",
                        "keys reserved, fastest way",
                        Map.of("postgresql", 1.5),
                        1,
                        ALL,
                        database -> {
                            FlushGraph flush = graph(database);
                            return new Sides(() -> empty(flush), flush::withReservedKeys, flush::bathra);
                        }),
                new Pair(
                        "flush of 100,000 rows",
                        "generated keys asked for",
                        Map.of("postgresql", 0.125),
                        1,
                        ALL,
                        database -> {
                            FlushGraph flush = graph(database);
                            return new Sides(() -> empty(flush), flush::withGeneratedKeys, flush::bathra);
                        }),
                many(
                        "fastest way",
                        Map.of("postgresql", 1.25),
                        false,
                        1_000_000,
                        List.of("postgresql"),
                        StoreMany::fastest),
                many("fastest way", Map.of("postgresql", 1.25), false, StoreMany::fastest),
                many("JDBC batches", Map.of(), false, StoreMany::batches),
                many("one by one", Map.of(), false, StoreMany::oneByOne),
                many("many rows a statement", UPSERT, true, StoreMany::fastest),
                many("JDBC batches", Map.of(), true, StoreMany::batches),
                many("one by one", Map.of(), true, StoreMany::oneByOne)));
        return all;
    }

    /** An update of the rows that are found among 200,000. */
    private static Pair changed(ChangeFound.By by) {
        String name = "update by query: " + by.name().toLowerCase(Locale.ROOT).replace('_', ' ');
        return new Pair(name, "the best SQL", FOUND, 1, ALL, database -> {
            ChangeFound change = new ChangeFound(database, by);
            return new Sides(change::prepare, change::byHand, change::bathra);
        });
    }

    /** A job of a stock. */
    private interface Job {
        Object run(Stock stock) throws Exception;
    }

    private static Pair stock(String name, Map<String, Double> targets, int repeat, Job byHand, Job bathra) {
        return new Pair(name, "JDBC", targets, repeat, TWO, database -> {
            Stock stock = stock(database);
            return new Sides(() -> stock, () -> byHand.run(stock), () -> bathra.run(stock));
        });
    }

    /** Containers in bulk. */
    private interface ByHand {
        Object run(StoreMany many) throws Exception;
    }

    private static Pair many(String baseline, Map<String, Double> targets, boolean upsert, ByHand byHand) {
        return many(baseline, targets, upsert, 100_000, ALL, byHand);
    }

    private static Pair many(
            String baseline,
            Map<String, Double> targets,
            boolean upsert,
            int rows,
            List<String> databases,
            ByHand byHand) {
        String name = String.format(Locale.ROOT, "bulk %s of %,d rows", upsert ? "upsert" : "insert", rows);
        return new Pair(name, baseline, targets, 1, databases, database -> {
            StoreMany many = new StoreMany();
            many.rows = rows;
            many.database = database;
            many.upsert = upsert;
            many.start();
            return new Sides(
                    () -> {
                        many.prepare();
                        return many;
                    },
                    () -> byHand.run(many),
                    many::bathra);
        });
    }

    private static Stock stock(String database) {
        Stock stock = new Stock();
        stock.database = database;
        stock.fill();
        return stock;
    }

    private static FlushGraph graph(String database) {
        FlushGraph flush = new FlushGraph();
        flush.database = database;
        flush.start();
        return flush;
    }

    private static Object empty(FlushGraph flush) {
        flush.empty();
        return flush;
    }
}
