package io.bathra.cli.measure;

import io.bathra.cli.measure.Way.Group;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * What was measured. Immutable.
 *
 * @param database its product
 * @param entity whose rows
 * @param rows how many were wanted
 * @param seconds how long each way had at the most
 * @param without what was not measured, and why
 */
public record Report(
        String database, String entity, long rows, long seconds, List<Result> results, Map<String, String> without) {
    public Report {
        results = List.copyOf(results);
    }

    /**
     * One way.
     *
     * @param rows how many it has done
     * @param nanos how long that took
     * @param cut whether its time was over before all rows were done
     * @param failure why it could not be done; null where it could
     */
    public record Result(
            String way,
            String group,
            long rows,
            long nanos,
            int statements,
            int roundTrips,
            boolean cut,
            @Nullable String failure) {
        /** Rows per second; 0 where nothing was done. */
        public double perSecond() {
            return nanos == 0 ? 0 : rows * 1e9 / nanos;
        }

        /** The time that a row took, in microseconds. */
        public double microsPerRow() {
            return rows == 0 ? 0 : nanos / 1e3 / rows;
        }
    }

    /** How many times as many rows per second as the slowest of the same group. */
    public double factor(Result result) {
        double slowest = results.stream()
                .filter(one -> one.group().equals(result.group()) && one.rows() > 0)
                .mapToDouble(Result::perSecond)
                .min()
                .orElse(0);
        return slowest == 0 ? 0 : result.perSecond() / slowest;
    }

    static Result of(Way way, Meter meter, long wanted) {
        return new Result(
                way.words(),
                way.group().words(),
                meter.rows(),
                meter.nanos(),
                meter.statements(),
                meter.trips(),
                meter.rows() < wanted,
                null);
    }

    static Result failed(Way way, String failure) {
        return new Result(way.words(), way.group().words(), 0, 0, 0, 0, false, failure);
    }

    /** The groups that were measured, in order. */
    List<String> groups() {
        return List.of(Group.values()).stream()
                .map(Group::words)
                .filter(words -> results.stream().anyMatch(one -> one.group().equals(words)))
                .toList();
    }
}
