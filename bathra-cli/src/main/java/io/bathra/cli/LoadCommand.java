package io.bathra.cli;

import io.bathra.cli.DatabaseOptions.Opened;
import io.bathra.cli.load.LineFile;
import io.bathra.cli.load.Load;
import io.bathra.cli.load.LoadResult;
import io.bathra.error.BathraException;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import me.tongfei.progressbar.ProgressBar;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Loads a CSV file into a table. */
@Command(
        name = "load",
        header = "Loads a CSV file into a table, in bulk.",
        description = "Loads a CSV file into the table of an entity, in bulk and in one transaction. Its "
                + "first line names attributes or columns; a link goes by what is unique in its target "
                + "(vessel.imo), a pivot by a list of that (pilots.badge: P01;P07). Lines that cannot "
                + "be stored go into a file of their own, with line, column and reason in front; mend "
                + "it, and load it like any other.",
        exitCodeList = {
            "0:all lines were taken",
            "1:nothing was stored",
            "2:the command was not understood",
            "3:all lines were taken but those that were rejected",
            "130:interrupted; nothing was stored"
        },
        footer = {
            "  bathra load Vessel vessels.csv",
            "  bathra load PortCall port_calls.csv --mode missing",
            "  bathra load Container containers.csv --mode upsert --on serial",
            "  bathra load Vessel foreign.csv --map 'IMO no=imo' --skip comment --dry-run",
            "  bathra load Container containers.rejected.csv --json",
            "  zcat containers.csv.gz | bathra load Container - --rejects rejected.csv"
        })
final class LoadCommand extends ModelCommand {
    private static final double MEGABYTE = 1 << 20;

    @Parameters(index = "0", paramLabel = "ENTITY", description = "The entity, or its table.")
    private String entityName = "";

    @Parameters(
            index = "1",
            paramLabel = "FILE",
            description = "A CSV file in UTF-8 with a header, or a pipe; - for standard input.")
    private Path file = Path.of("");

    @Option(
            names = "--mode",
            paramLabel = "MODE",
            description = "What becomes of a line whose row is there: insert rejects it, missing skips it, "
                    + "upsert writes it over the row. insert if left out.")
    private Load.Mode mode = Load.Mode.INSERT;

    @Option(
            names = "--on",
            paramLabel = "ATTRIBUTE",
            split = ",",
            description =
                    "What tells whether a row is there: the attributes of a unique constraint. Needed for upsert.")
    private List<String> on = List.of();

    @Option(
            names = "--map",
            paramLabel = "COLUMN=ATTRIBUTE",
            description = "A column that is called otherwise in the file. May be given several times.")
    private Map<String, String> renamed = Map.of();

    @Option(
            names = "--skip",
            paramLabel = "COLUMN",
            split = ",",
            description = "Columns of the file that are not loaded. Those that begin with # never are.")
    private Set<String> skipped = Set.of();

    @Option(names = "--separator", paramLabel = "CHAR", description = "Stands between two values: a comma if left out.")
    private char separator = ',';

    @Option(
            names = "--list-separator",
            paramLabel = "TEXT",
            description = "Stands between the elements of a list: a semicolon if left out.")
    private String listSeparator = ";";

    @Option(
            names = "--max-rejected",
            paramLabel = "LINES",
            description = "With more rejected lines, nothing is stored: 0 for all or nothing.")
    private long mostRejected = Long.MAX_VALUE;

    @Option(
            names = "--rejects",
            paramLabel = "FILE",
            description = "Where rejected lines go: to a file that is not there, or that holds rejected lines. "
                    + "If left out: NAME.rejected.csv beside NAME.csv, ENTITY.rejected.csv for what comes "
                    + "through a pipe.")
    private @Nullable Path rejects;

    @Option(names = "--overwrite", description = "Lets rejected lines be written over any file.")
    private boolean overwriting;

    private @Nullable LineFile lines;

    @Mixin
    private PageOption page = new PageOption();

    @Option(names = "--dry-run", description = "Does everything, and takes it back in the end.")
    private boolean dryRun;

    @Option(names = "--no-progress", description = "Shows no progress; it is shown on a terminal alone.")
    private boolean noProgress;

    @Override
    public Integer call() {
        return page.recorded(entityName + " loaded from " + file, super::call);
    }

    @Override
    void prepare(Model model) {
        EntityOutline entity = ModelOptions.entity(model, entityName);
        Path place = rejects(entity);
        if (file.toAbsolutePath().normalize().equals(place.toAbsolutePath().normalize())) {
            throw new BathraException(
                    "rejected lines would be written over " + file + "; name another file by --rejects");
        }
        Load.refuseOther(place, overwriting);
        lines = LineFile.open(file, separator); // a file that is none leaves no embedded database behind
    }

    @Override
    void end() {
        if (lines != null) {
            lines.close();
        }
    }

    @Override
    int work(Talk talk, Opened opened) {
        EntityOutline entity = ModelOptions.entity(opened.store().model(), entityName);
        Load.Order order = new Load.Order(
                mode,
                on,
                renamed,
                skipped,
                separator,
                listSeparator,
                mostRejected,
                dryRun,
                rejects(entity),
                overwriting);
        try (Interruption interruption = new Interruption(talk.err())) {
            LoadResult result = load(Objects.requireNonNull(lines), opened, entity, order, interruption);
            if (asJson()) {
                talk.json(result);
            } else {
                tell(result, opened.place(), talk.out());
            }
            return result.rejected() == 0 ? ExitCode.DONE : ExitCode.LOOK;
        }
    }

    private LoadResult load(
            LineFile lines, Opened opened, EntityOutline entity, Load.Order order, Interruption interruption) {
        long start = System.nanoTime();
        try (ProgressBar bar = bar()) {
            Load.Watcher watcher = (done, rejected, bytes) -> {
                interruption.check();
                if (bar != null) {
                    double seconds = (System.nanoTime() - start) / 1e9;
                    bar.stepTo(bytes);
                    bar.setExtraMessage(String.format(
                            Locale.ROOT,
                            "%,d lines, %,.0f a second%s",
                            done,
                            done / seconds,
                            rejected == 0 ? "" : String.format(Locale.ROOT, ", %,d rejected", rejected)));
                }
            };
            return new Load(opened.store(), entity, order, watcher).run(lines);
        } catch (RuntimeException e) {
            interruption.explain(e);
            throw e;
        }
    }

    private @Nullable ProgressBar bar() {
        if (noProgress || !Talk.isTerminal()) {
            return null;
        }
        try {
            long size = Files.isRegularFile(file) ? Files.size(file) : -1; // of a pipe nobody knows
            boolean small = size >= 0 && size < MEGABYTE;
            return Progress.bar(LineFile.isStandardInput(file) ? "standard input" : String.valueOf(file.getFileName()))
                    .setInitialMax(size)
                    .setUnit(small ? " KB" : " MB", small ? 1 << 10 : (long) MEGABYTE)
                    .build();
        } catch (IOException e) {
            throw new BathraException(file + " cannot be read: " + e, e);
        }
    }

    private Path rejects(EntityOutline entity) {
        if (rejects != null) {
            return rejects;
        }
        if (LineFile.isStandardInput(file) || (Files.exists(file) && !Files.isRegularFile(file))) {
            return Path.of(entity.name() + ".rejected.csv");
        }
        String name = String.valueOf(file.getFileName());
        int dot = name.lastIndexOf('.');
        return file.resolveSibling((dot > 0 ? name.substring(0, dot) : name) + ".rejected.csv");
    }

    private static void tell(LoadResult result, String place, PrintWriter out) {
        out.printf(
                Locale.ROOT,
                "%s: %,d lines%s into %s, on %s%n",
                result.file(),
                result.lines(),
                result.dryRun() ? " tried out, and taken back," : "",
                result.entity(),
                place);
        line(out, "inserted", result.inserted(), "");
        line(out, "updated", result.updated(), "");
        line(out, "unchanged", result.unchanged(), "");
        line(out, "skipped", result.skipped(), "");
        line(out, "rejected", result.rejected(), result.rejectFile() == null ? "" : "see " + result.rejectFile());
        if (result.pairsAdded() + result.pairsSkipped() > 0) {
            line(out, "pairs added", result.pairsAdded(), "");
            line(out, "pairs there", result.pairsSkipped(), "");
        }
        out.printf(
                Locale.ROOT,
                "%.1f s, %,.0f lines a second%s%n",
                result.seconds(),
                result.lines() / result.seconds(),
                result.ways().isEmpty() ? "" : " (" + String.join(", ", result.ways()) + ")");
    }

    private static void line(PrintWriter out, String what, long count, String more) {
        out.println(String.format(Locale.ROOT, "  %-11s %,12d  %s", what, count, more)
                .stripTrailing());
    }
}
