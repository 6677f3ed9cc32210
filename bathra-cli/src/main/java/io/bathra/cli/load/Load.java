package io.bathra.cli.load;

import static io.bathra.bulk.Overwrite.overwriteAll;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.bulk.Bulk;
import io.bathra.bulk.BulkResult;
import io.bathra.bulk.On;
import io.bathra.bulk.Pair;
import io.bathra.bulk.Pairs;
import io.bathra.bulk.Rejection;
import io.bathra.cli.load.Columns.PairColumn;
import io.bathra.cli.load.LineFile.Line;
import io.bathra.error.BathraException;
import io.bathra.model.EntityOutline;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Loads a file into a table, in one transaction: all lines that can be stored, or none. Lines that cannot be are put
 * into a file of their own.
 */
public final class Load {
    /** So many lines are read and written at once. */
    private static final int PORTION = 10_000;

    /** What becomes of a line whose row is there. */
    public enum Mode {
        /** It is rejected. */
        INSERT,
        /** It is skipped. */
        MISSING,
        /** It is written over the row. */
        UPSERT
    }

    /**
     * What is asked for.
     *
     * @param on the attributes that tell whether a row is there; empty for any unique constraint
     * @param listSeparator what stands between the elements of a list
     * @param mostRejected with more rejected lines, nothing is stored
     * @param dryRun whether everything is taken back in the end
     * @param rejects where rejected lines go
     * @param overwriting whether they may go over a file that holds something else
     */
    public record Order(
            Mode mode,
            List<String> on,
            Map<String, String> renamed,
            Set<String> skipped,
            char separator,
            String listSeparator,
            long mostRejected,
            boolean dryRun,
            Path rejects,
            boolean overwriting) {}

    /** Told after each portion; may throw to end the load, of which nothing is stored then. */
    public interface Watcher {
        void loaded(long lines, long rejected, long bytes);
    }

    private final Store store;
    private final EntityOutline entity;
    private final Order order;
    private final Watcher watcher;
    private final Sum sum = new Sum();

    private static final class Sum {
        private long lines;
        private long inserted;
        private long updated;
        private long unchanged;
        private long skipped;
        private long rejected;
        private long pairsAdded;
        private long pairsSkipped;
        private final Set<String> paths = new LinkedHashSet<>();
    }

    /**
     * Refuses a place for rejected lines where something else is.
     *
     * @throws BathraException when it may not be written there
     */
    public static void refuseOther(Path rejects, boolean overwriting) {
        RejectFile.refuseOther(rejects, overwriting);
    }

    public Load(Store store, EntityOutline entity, Order order, Watcher watcher) {
        this.store = store;
        this.entity = entity;
        this.order = order;
        this.watcher = watcher;
    }

    /**
     * Loads a file.
     *
     * @throws BathraException when it cannot be read, means nothing to the entity, or has too many bad lines; nothing
     * is stored then
     */
    public LoadResult run(LineFile file) {
        long start = System.nanoTime();
        Columns columns = Columns.of(store.model(), entity, file.header(), order.renamed(), order.skipped());
        String owner = columns.pairs().isEmpty() ? null : columns.owner(order.on());
        Path rejectFile = null;
        try (RejectFile rejects = new RejectFile(
                        order.rejects(), order.overwriting(), file.header(), columns.secrets(), order.separator());
                UnitOfWork work = store.begin()) {
            try {
                while (file.hasNext()) {
                    List<Line> portion = new ArrayList<>(PORTION);
                    while (portion.size() < PORTION && file.hasNext()) {
                        portion.add(file.next());
                    }
                    new Portion(work, columns, owner, file.header(), portion, rejects).store();
                    sum.lines += portion.size();
                    watcher.loaded(sum.lines, sum.rejected, file.bytes());
                }
                if (sum.rejected > order.mostRejected()) {
                    rejectFile = rejects.finish();
                    throw new BathraException(sum.rejected + " lines of " + file.name() + " were rejected, but at most "
                            + order.mostRejected() + " may be; nothing was stored; see " + rejectFile);
                }
                if (order.dryRun()) {
                    work.rollback();
                } else {
                    work.commit();
                }
                rejectFile = rejects.finish();
            } catch (RuntimeException e) {
                takeBack(work, e);
                throw e;
            }
        }
        return new LoadResult(
                file.name(),
                entity.name(),
                sum.lines,
                sum.inserted,
                sum.updated,
                sum.unchanged,
                sum.skipped,
                sum.rejected,
                sum.pairsAdded,
                sum.pairsSkipped,
                rejectFile == null ? null : rejectFile.toString(),
                order.dryRun(),
                (System.nanoTime() - start) / 1e9,
                List.copyOf(sum.paths));
    }

    private static void takeBack(UnitOfWork work, RuntimeException cause) {
        try {
            work.rollback();
        } catch (RuntimeException e) {
            cause.addSuppressed(e); // without its connection the transaction is gone as well
        }
    }

    /** Some lines on their way into the database. */
    private final class Portion {
        private final UnitOfWork work;
        private final Columns columns;
        private final @Nullable String owner;
        private final List<String> header;
        private final RejectFile rejects;

        /** The lines whose rows are given to the bulk call, by the number of the row there. */
        private final List<Line> whole = new ArrayList<>();

        /** What is wrong with lines, by column. */
        private final Map<Line, Map<String, String>> faults = new HashMap<>();

        Portion(
                UnitOfWork work,
                Columns columns,
                @Nullable String owner,
                List<String> header,
                List<Line> lines,
                RejectFile rejects) {
            this.work = work;
            this.columns = columns;
            this.owner = owner;
            this.header = header;
            this.rejects = rejects;
            for (Line line : lines) {
                if (line.values().size() != header.size()) {
                    reject(line, "*", "has " + line.values().size() + " values, but the header has " + header.size());
                    continue;
                }
                OptionalInt leftOut = columns.secrets().stream()
                        .mapToInt(Integer::intValue)
                        .filter(index -> line.values().get(index).equals(RejectFile.SECRET))
                        .findFirst();
                if (leftOut.isPresent()) {
                    reject(
                            line,
                            header.get(leftOut.getAsInt()),
                            "stands for a value that was left out; fill it in again");
                } else {
                    whole.add(line);
                }
            }
        }

        private void reject(Line line, String column, String reason) {
            faults.computeIfAbsent(line, one -> new LinkedHashMap<>()).merge(column, reason, (a, b) -> a + "; " + b);
        }

        void store() {
            BulkResult result = call(work.bulk(entity.type()));
            sum.inserted += result.inserted();
            sum.updated += result.updated();
            sum.unchanged += result.unchanged();
            sum.skipped += result.skipped();
            sum.paths.addAll(result.paths());
            columns.pairs().forEach(this::pair);
            sum.rejected += faults.size();
            faults.entrySet().stream()
                    .sorted(Comparator.comparingLong(fault -> fault.getKey().number()))
                    .forEach(fault -> rejects.add(
                            fault.getKey(),
                            String.join("; ", fault.getValue().keySet()),
                            String.join("; ", fault.getValue().values())));
        }

        private <E> BulkResult call(Bulk<E, E> bulk) {
            Bulk<E, Map<String, @Nullable String>> rows = bulk.texts().rejectTo(this::take);
            List<Map<String, @Nullable String>> all =
                    whole.stream().map(line -> columns.row(line.values())).toList();
            On<E> on = order.on().isEmpty() ? null : On.named(order.on());
            return switch (order.mode()) {
                case INSERT -> rows.insert(all);
                case MISSING -> rows.insertMissing(all, on);
                case UPSERT -> {
                    if (on == null) {
                        throw new BathraException("an upsert has to know what tells a row; say --on ATTRIBUTE");
                    }
                    yield rows.upsert(all, on, overwriteAll());
                }
            };
        }

        private void take(Rejection rejection) {
            Line line = whole.get((int) rejection.row() - 1);
            int index = columns.index(rejection.attribute());
            String column = index >= 0 ? header.get(index) : rejection.attribute();
            Object value = rejection.value();
            reject(line, column, (value == null ? "" : "'" + value + "' ") + rejection.reason());
        }

        /** Adds the pairs of one column, of lines that were not rejected. */
        private void pair(PairColumn column) {
            List<Pair> pairs = new ArrayList<>();
            List<Line> lines = new ArrayList<>();
            int ownerIndex = columns.index(String.valueOf(owner));
            for (Line line : whole) {
                String list = line.values().get(column.index());
                if (list.isBlank() || faults.containsKey(line)) {
                    continue;
                }
                for (String element : list.split(Pattern.quote(order.listSeparator()))) {
                    pairs.add(Pair.of(line.values().get(ownerIndex), element.strip()));
                    lines.add(line);
                }
            }
            if (pairs.isEmpty()) {
                return;
            }
            Pairs<?, Object> bulk = work.bulk(entity.type())
                    .rejectTo(rejection -> reject(
                            lines.get((int) rejection.row() - 1),
                            header.get(column.index()),
                            "'" + rejection.value() + "' " + rejection.reason()))
                    .pairs(column.pivot())
                    .texts();
            bulk = bulk.owners(On.named(List.of(String.valueOf(owner))));
            bulk = column.by() == null ? bulk : bulk.others(On.named(List.of(column.by())));
            BulkResult result = bulk.add(pairs);
            sum.pairsAdded += result.inserted();
            sum.pairsSkipped += result.skipped();
            sum.paths.addAll(result.paths());
        }
    }
}
