package io.bathra.bench;

import io.bathra.bench.day.CounterDay;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;

/**
 * Runs all pairs and shows how many times as long Bathra takes. Each pair has a VM of its own, in which the two sides
 * run in turn, so that whatever else the machine does meets both; medians are compared, since such a machine has
 * outliers.
 */
public final class Ratios {
    private static final int LEAST_RUNS = 9;
    private static final int LEAST_RUNS_SHORT = 5;
    private static final int MOST_RUNS = 61;
    private static final int SECONDS = 10;
    private static final int SECONDS_SHORT = 6;

    /** Where a counter's day is worked through. */
    private static final List<String> DAYS = List.of("h2", "sqlite", "postgresql", "mariadb");

    /** Begins the line with which the VM of one pair answers. */
    private static final String ANSWER = "ratio: ";

    /**
     * What came out for a pair on one database.
     *
     * @param byHand the median time of the side by hand, in milliseconds
     * @param bathra the same of Bathra
     * @param ratio the median of the ratios of runs that followed each other
     * @param low a quarter of the ratios are below it
     * @param high a quarter of the ratios are above it
     */
    private record Line(
            Pair pair, String database, double byHand, double bathra, double ratio, double low, double high) {
        String shown() {
            return text(
                    "%-41s %-27s %-11s %8s %8s %6.2f  %.2f-%.2f  %s",
                    pair.name(),
                    pair.baseline(),
                    database,
                    millis(byHand),
                    millis(bathra),
                    ratio,
                    low,
                    high,
                    pair.target(database) == 0 ? "" : "<= " + text("%.2f", pair.target(database)));
        }

        private static String millis(double time) {
            return text(time < 1 ? "%.4f" : "%.1f", time);
        }

        String json() {
            return text(
                    "{\"job\": \"%s\", \"baseline\": \"%s\", \"database\": \"%s\", \"byHandMillis\": %.4f,"
                            + " \"bathraMillis\": %.4f, \"ratio\": %.3f, \"lowerQuartile\": %.3f, \"upperQuartile\": %.3f,"
                            + " \"target\": %s}",
                    pair.name(),
                    pair.baseline(),
                    database,
                    byHand,
                    bathra,
                    ratio,
                    low,
                    high,
                    pair.target(database) == 0 ? "null" : text("%.3f", pair.target(database)));
        }
    }

    private Ratios() {}

    /**
     * Something that is measured by itself.
     *
     * @param target what it should not be more than
     */
    private record Measure(String name, String unit, double target, Callable<Double> take) {
        private static final List<Measure> ALL = List.of(
                new Measure("tracking a clean entity of ten columns", "bytes", 160, Footprint::bytes),
                new Measure("model of 200 entities, and its store", "ms", 150, () -> OpenStore.millis(true)),
                new Measure("the same, of classes never used before", "ms", 0, () -> OpenStore.millis(false)));

        String shown(double value) {
            String limit = target == 0 ? "" : text("<= %.0f", target);
            return text("%-41s %-27s %-11s %8s %8.0f %17s  %s", name, "in " + unit, "h2", "", value, "", limit);
        }

        String json(double value) {
            return text(
                    "{\"measure\": \"%s\", \"unit\": \"%s\", \"value\": %.1f, \"target\": %.0f}",
                    name, unit, value, target);
        }
    }

    /**
     * Takes {@code short} or {@code full}, the file for the JSON, and a part of the names of the pairs to run,
     * baselines included.
     */
    public static void main(String[] args) throws Exception {
        switch (args[0]) {
            case "pair" -> {
                Pair pair = Pair.all().get(Integer.parseInt(args[1]));
                System.out.println(ANSWER + one(pair, args[2], args[3].equals("short")));
            }
            case "measure" ->
                System.out.println(ANSWER
                        + Measure.ALL.get(Integer.parseInt(args[1])).take().call());
            default -> all(args[0].equals("short"), Path.of(args[1]), args.length > 2 ? args[2] : "");
        }
        System.exit(0); // servers may have threads that wait for more
    }

    private static void all(boolean isShort, Path file, String part) throws IOException {
        System.out.println(machine());
        System.out.printf(
                "%-41s %-27s %-11s %8s %8s %6s  %s%n",
                "job", "compared with", "database", "ms", "Bathra", "ratio", "quartiles  to reach");
        List<String> results = new ArrayList<>();
        List<Pair> pairs = Pair.all();
        for (int i = 0; i < pairs.size(); i++) {
            Pair pair = pairs.get(i);
            if (!(pair.name() + " " + pair.baseline()).contains(part) || isShort && !pair.isShort()) {
                continue;
            }
            for (String database : isShort ? pair.shortDatabases() : pair.databases()) {
                double[] answer = answer(List.of("pair", String.valueOf(i), database, isShort ? "short" : "full"));
                Line line = new Line(pair, database, answer[0], answer[1], answer[2], answer[3], answer[4]);
                results.add(line.json());
                System.out.println(line.shown());
            }
        }
        for (int i = 0; i < Measure.ALL.size(); i++) {
            Measure measure = Measure.ALL.get(i);
            if (measure.name().contains(part)) {
                double value = answer(List.of("measure", String.valueOf(i)))[0];
                results.add(measure.json(value));
                System.out.println(measure.shown(value));
            }
        }
        for (String database : "a counter's day".contains(part) ? DAYS : List.<String>of()) {
            for (String line : vm(CounterDay.class, List.of(database, isShort ? "6" : "20"))) {
                if (line.startsWith(CounterDay.JSON)) {
                    results.add(line.substring(CounterDay.JSON.length()));
                } else {
                    System.out.println(line);
                }
            }
        }
        Files.writeString(
                file, "{\"machine\": \"" + machine() + "\", \"results\": [\n" + String.join(",\n", results) + "\n]}\n");
        System.out.println("written to " + file);
    }

    private static String machine() {
        return "Java " + Runtime.version() + ", " + System.getProperty("os.name") + " " + System.getProperty("os.arch")
                + ", " + Runtime.getRuntime().availableProcessors() + " processors";
    }

    private static double[] answer(List<String> arguments) throws IOException {
        List<String> output = vm(Ratios.class, arguments);
        return output.stream()
                .filter(line -> line.startsWith(ANSWER))
                .findFirst()
                .map(line -> Arrays.stream(line.substring(ANSWER.length()).split(" "))
                        .mapToDouble(Double::parseDouble)
                        .toArray())
                .orElseThrow(() -> new IllegalStateException(arguments + " failed:\n" + String.join("\n", output)));
    }

    /** What a program prints in a VM of its own; only what servers log is left out. */
    private static List<String> vm(Class<?> program, List<String> arguments) throws IOException {
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-Xms4g",
                "-Xmx4g",
                "-Xmn3g",
                "-XX:+UseParallelGC",
                "-cp",
                System.getProperty("java.class.path"),
                program.getName()));
        command.addAll(arguments);
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String output = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        return output.lines().filter(line -> !line.contains("INFO")).toList();
    }

    /** Runs both sides in turn: a third of the time for warming up, the rest for measuring. */
    private static String one(Pair pair, String database, boolean isShort) throws Exception {
        int seconds = isShort ? SECONDS_SHORT : SECONDS;
        int least = isShort ? LEAST_RUNS_SHORT : LEAST_RUNS;
        Pair.Sides sides = pair.start().on(database);
        long start = System.nanoTime();
        while (System.nanoTime() - start < seconds * 333_000_000L) {
            time(sides.byHand(), sides, pair.repeat());
            time(sides.bathra(), sides, pair.repeat());
        }
        start = System.nanoTime();
        List<Double> byHand = new ArrayList<>();
        List<Double> bathra = new ArrayList<>();
        List<Double> ratios = new ArrayList<>();
        while (byHand.size() < least
                || byHand.size() < MOST_RUNS && System.nanoTime() - start < seconds * 667_000_000L) {
            byHand.add(time(sides.byHand(), sides, pair.repeat()));
            bathra.add(time(sides.bathra(), sides, pair.repeat()));
            ratios.add(bathra.get(bathra.size() - 1) / byHand.get(byHand.size() - 1));
        }
        return text(
                "%f %f %f %f %f",
                quantile(byHand, 0.5),
                quantile(bathra, 0.5),
                quantile(ratios, 0.5),
                quantile(ratios, 0.25),
                quantile(ratios, 0.75));
    }

    private static double time(Pair.Side side, Pair.Sides sides, int repeat) throws Exception {
        sides.before().run();
        int seen = 0;
        long start = System.nanoTime();
        for (int i = 0; i < repeat; i++) {
            seen += System.identityHashCode(side.run()); // what is looked at is not left out
        }
        long nanos = System.nanoTime() - start;
        return seen == 0 ? Double.NaN : nanos / 1e6 / repeat;
    }

    private static double quantile(List<Double> times, double part) {
        List<Double> sorted = times.stream().sorted().toList();
        return sorted.get((int) (part * (sorted.size() - 1)));
    }

    private static String text(String format, Object... values) {
        return String.format(Locale.ROOT, format, values);
    }
}
