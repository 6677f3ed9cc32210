package io.bathra.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import org.openjdk.jmh.results.RunResult;
import org.openjdk.jmh.runner.Runner;
import org.openjdk.jmh.runner.RunnerException;
import org.openjdk.jmh.runner.options.Options;
import org.openjdk.jmh.runner.options.OptionsBuilder;
import org.openjdk.jmh.runner.options.TimeValue;

/**
 * Runs all jobs, those of Bathra and those by hand in turn, and shows how many times as long Bathra takes. Medians are compared,
 * since a machine that others use too has outliers; of several rounds the median ratio counts, and the range is shown.
 */
public final class Ratios {
    /**
     * A job that is done both ways.
     *
     * @param byHand the benchmark by hand, as class and method
     * @param byBathra the one by Bathra
     * @param target the ratio to reach; 0 where there is none
     */
    record Job(String name, String byHand, String byBathra, double target) {}

    /** The ratios of a job on one database, one for each round. */
    record Line(Job job, String database, List<Double> ratios) {
        double median() {
            List<Double> sorted = ratios.stream().sorted().toList();
            return sorted.get(sorted.size() / 2);
        }

        String shown() {
            return String.format(
                    Locale.ROOT,
                    "%-46s %-11s %6.2f   %s   %s",
                    job.name(),
                    database,
                    median(),
                    range(),
                    job.target() == 0 ? "" : String.format(Locale.ROOT, "<= %.2f", job.target()));
        }

        private String range() {
            return String.format(
                    Locale.ROOT,
                    "%.2f-%.2f",
                    ratios.stream().min(Comparator.naturalOrder()).orElseThrow(),
                    ratios.stream().max(Comparator.naturalOrder()).orElseThrow());
        }

        String json() {
            return String.format(
                    Locale.ROOT,
                    "  {\"job\": \"%s\", \"database\": \"%s\", \"ratio\": %.3f, \"rounds\": %s, \"target\": %.2f}",
                    job.name(),
                    database,
                    median(),
                    ratios.stream()
                            .map(ratio -> String.format(Locale.ROOT, "%.3f", ratio))
                            .toList(),
                    job.target());
        }
    }

    private static final List<Job> JOBS = List.of(
            new Job("one entity by key", "ReadOne.jdbc", "ReadOne.bathra", 1.25),
            new Job("one row by four conditions, ordered", "AskOne.jdbc", "AskOne.bathra", 0),
            new Job("100,000 entities, tracked", "ReadMany.entitiesJdbc", "ReadMany.entitiesTracked", 1.3),
            new Job("100,000 rows into records by name", "ReadMany.recordsJdbc", "ReadMany.recordsByName", 1.1),
            new Job(
                    "100,000 rows into records by constructor",
                    "ReadMany.partsJdbc",
                    "ReadMany.recordsByConstructor",
                    1.1),
            new Job("changes among 100,000 clean entities", "FindChanges.byHand", "FindChanges.bathra", 2));

    private Ratios() {}

    /** Takes the number of rounds, 1 when none is given, and the file for the JSON. */
    public static void main(String[] args) throws RunnerException, IOException {
        int rounds = args.length > 0 ? Integer.parseInt(args[0]) : 1;
        Path file = Path.of(args.length > 1 ? args[1] : "ratios.json");
        Map<String, Line> lines = new LinkedHashMap<>();
        for (int round = 0; round < rounds; round++) {
            for (Job job : JOBS) {
                Map<String, Double> byHand = medians(job.byHand());
                medians(job.byBathra())
                        .forEach((database, median) -> lines.computeIfAbsent(
                                        job.name() + database, key -> new Line(job, database, new ArrayList<>()))
                                .ratios()
                                .add(median / byHand.get(database)));
            }
        }
        System.out.printf(
                "%n%-46s %-11s %6s   %s%n", "Bathra's time / by hand", "database", "median", "range       to reach");
        lines.values().forEach(line -> System.out.println(line.shown()));
        Files.writeString(
                file, lines.values().stream().map(Line::json).collect(Collectors.joining(",\n", "[\n", "\n]\n")));
    }

    /** The median time of a benchmark by the database that it ran on. */
    private static Map<String, Double> medians(String benchmark) throws RunnerException {
        Options options = new OptionsBuilder()
                .include("\\." + benchmark.replace(".", "\\.") + "$")
                .forks(1)
                .warmupIterations(8)
                .warmupTime(TimeValue.milliseconds(500))
                .measurementIterations(15)
                .measurementTime(TimeValue.milliseconds(400))
                .jvmArgs("-Xms4g", "-Xmx4g", "-Xmn3g", "-XX:+UseParallelGC")
                .build();
        Map<String, Double> medians = new LinkedHashMap<>();
        for (RunResult result : new Runner(options).run()) {
            medians.put(
                    result.getParams().getParam("database"),
                    result.getPrimaryResult().getStatistics().getPercentile(50));
        }
        return medians;
    }
}
