package io.bathra.bench;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/**
 * Runs all pairs and shows how many times as long Bathra takes. Each pair has a VM of its own, in which the two sides run in turn,
 * so that whatever else the machine does meets both; medians are compared, since such a machine has outliers.
 */
public final class Ratios {
    private static final int LEAST_RUNS = 9;
    private static final int MOST_RUNS = 61;

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
                    "%-41s %-27s %-11s %8.1f %8.1f %6.2f  %.2f-%.2f  %s",
                    pair.name(),
                    pair.baseline(),
                    database,
                    byHand,
                    bathra,
                    ratio,
                    low,
                    high,
                    pair.target() == 0 ? "" : "<= " + text("%.2f", pair.target()));
        }

        String json() {
            return text(
                    "{\"job\": \"%s\", \"baseline\": \"%s\", \"database\": \"%s\", \"byHandMillis\": %.3f,"
                            + " \"bathraMillis\": %.3f, \"ratio\": %.3f, \"lowerQuartile\": %.3f, \"upperQuartile\": %.3f,"
                            + " \"target\": %s}",
                    pair.name(),
                    pair.baseline(),
                    database,
                    byHand,
                    bathra,
                    ratio,
                    low,
                    high,
                    pair.target() == 0 ? "null" : text("%.3f", pair.target()));
        }
    }

    private Ratios() {}

    /** Takes the seconds for each pair on each database, the file for the JSON, and a part of the names of the pairs to run. */
    public static void main(String[] args) throws Exception {
        if (args[0].equals("one")) {
            System.out.println(
                    ANSWER + one(Pair.all().get(Integer.parseInt(args[1])), args[2], Integer.parseInt(args[3])));
            System.exit(0); // servers may have threads that wait for more
        }
        all(args[0], Path.of(args[1]), args.length > 2 ? args[2] : "");
    }

    private static void all(String seconds, Path file, String part) throws IOException {
        System.out.println(machine());
        System.out.printf(
                "%-41s %-27s %-11s %8s %8s %6s  %s%n",
                "job", "compared with", "database", "ms", "Bathra", "ratio", "quartiles  to reach");
        List<Line> lines = new ArrayList<>();
        List<Pair> pairs = Pair.all();
        for (int i = 0; i < pairs.size(); i++) {
            Pair pair = pairs.get(i);
            if (!pair.name().contains(part)) {
                continue;
            }
            for (String database : pair.databases()) {
                Line line = line(pair, database, List.of("one", String.valueOf(i), database, seconds));
                lines.add(line);
                System.out.println(line.shown());
            }
        }
        Files.writeString(
                file,
                "{\"machine\": \"" + machine() + "\", \"pairs\": [\n"
                        + lines.stream().map(Line::json).collect(Collectors.joining(",\n")) + "\n]}\n");
        System.out.println("written to " + file);
    }

    private static String machine() {
        return "Java " + Runtime.version() + ", " + System.getProperty("os.name") + " " + System.getProperty("os.arch")
                + ", " + Runtime.getRuntime().availableProcessors() + " processors";
    }

    private static Line line(Pair pair, String database, List<String> arguments) throws IOException {
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-Xms4g",
                "-Xmx4g",
                "-Xmn3g",
                "-XX:+UseParallelGC",
                "-cp",
                System.getProperty("java.class.path"),
                Ratios.class.getName()));
        command.addAll(arguments);
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String output = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        double[] answer = output.lines()
                .filter(line -> line.startsWith(ANSWER))
                .findFirst()
                .map(line -> Arrays.stream(line.substring(ANSWER.length()).split(" "))
                        .mapToDouble(Double::parseDouble)
                        .toArray())
                .orElseThrow(() -> new IllegalStateException(pair.name() + " on " + database + " failed:\n" + output));
        return new Line(pair, database, answer[0], answer[1], answer[2], answer[3], answer[4]);
    }

    /** Runs both sides in turn: a third of the time for warming up, the rest for measuring. */
    private static String one(Pair pair, String database, int seconds) throws Exception {
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
        while (byHand.size() < LEAST_RUNS
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
