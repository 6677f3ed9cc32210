package io.bathra.cli;

import io.bathra.cli.DatabaseOptions.Opened;
import io.bathra.cli.measure.Measure;
import io.bathra.cli.measure.MeasureChart;
import io.bathra.cli.measure.MeasureTable;
import io.bathra.cli.measure.Report;
import io.bathra.cli.measure.Scratch;
import io.bathra.error.BathraException;
import io.bathra.examples.harbour.Container;
import io.bathra.examples.harbour.Harbour;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import me.tongfei.progressbar.ProgressBar;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Compares ways of storing and reading rows of an entity on a database. */
@Command(
        name = "measure",
        header = "Compares ways of storing and reading rows on a database.",
        description = "Stores rows of an entity one by one, in batches, by units of work, in bulk and as "
                + "upserts, and reads them by key, as a list and with links: how many rows a second, by "
                + "how many statements. The rows are made up, in a schema of its own (on SQLite a file, "
                + "on MariaDB a database) that is taken away in the end.",
        mixinStandardHelpOptions = true,
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra measure                          the harbour's containers, on H2",
            "  bathra measure --url jdbc:postgresql://db/harbour --user me --password",
            "  bathra measure Invoice --classpath target/classes --url jdbc:sqlite:shop.db"
        })
final class MeasureCommand implements Callable<Integer> {
    private static final String EMBEDDED = "jdbc:h2:mem:measure";
    private static final int MOST_ROWS = 10_000_000;

    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Mixin
    private SettingsOption settings = new SettingsOption();

    @Mixin
    private ModelOptions models = new ModelOptions();

    @Mixin
    private DatabaseOptions database = new DatabaseOptions();

    @Parameters(
            index = "0",
            arity = "0..1",
            paramLabel = "ENTITY",
            description = "Whose rows; Container of the harbour office if left out.")
    private @Nullable String name;

    @Option(names = "--rows", paramLabel = "N", description = "How many rows for each way: 10000 if left out.")
    private int rows = 10_000;

    @Option(
            names = "--seconds",
            paramLabel = "N",
            description = "How long each way may take: 10 if left out. What is not done by then is not counted.")
    private int seconds = 10;

    @Option(names = "--chart", paramLabel = "FILE", description = "Draws the result, as .png or .svg.")
    private @Nullable Path chart;

    @Option(names = "--json", description = "Prints the answer as JSON.")
    private boolean json;

    @Option(
            names = "--remove-leftovers",
            description = "First removes what earlier runs have left that were killed; not while another one runs.")
    private boolean removing;

    @Override
    public Integer call() {
        if (rows < 1 || rows > MOST_ROWS || seconds < 1) {
            throw new ParameterException(
                    spec.commandLine(), "--rows takes 1 to " + MOST_ROWS + ", and --seconds at least 1");
        }
        String ending = chart == null ? "" : chart.toString().toLowerCase(Locale.ROOT);
        if (chart != null && !ending.endsWith(".png") && !ending.endsWith(".svg")) {
            throw new BathraException("a chart is SVG or PNG, so '" + chart + "' has to end with .svg or .png");
        }
        Talk talk = new Talk(spec);
        Model model = models.model(settings);
        EntityOutline entity = entity(model);
        try (Interruption interruption = new Interruption(talk.err());
                Opened opened = database.openToEnd(settings, model, EMBEDDED)) {
            leftovers(talk, opened);
            Report report = measured(interruption, opened, entity);
            if (json) {
                talk.json(report);
            } else {
                talk.out().println(MeasureTable.of(report));
            }
            draw(report);
        }
        return ExitCode.DONE;
    }

    private EntityOutline entity(Model model) {
        if (name == null && model == Harbour.MODEL) {
            return model.entity(Container.class);
        } else if (name == null) {
            throw new ParameterException(
                    spec.commandLine(),
                    "name an entity of the model '" + model.name() + "': "
                            + model.entities().stream().map(EntityOutline::name).collect(Collectors.joining(", ")));
        }
        EntityOutline entity = ModelOptions.entity(model, name);
        if (entity.kind() != EntityOutline.Kind.ENTITY) {
            throw new BathraException(entity.name() + " is a view, which takes no rows; name another entity");
        }
        return entity;
    }

    private Report measured(Interruption interruption, Opened opened, EntityOutline entity) {
        try (Scratch scratch = Scratch.make(
                opened.store(),
                opened.pool(),
                opened.url(),
                url -> another(opened.store().model(), url))) {
            try (Watching watching = new Watching(interruption, !json && Talk.isTerminal())) {
                return Measure.of(scratch, entity, rows, seconds, watching);
            }
        } catch (RuntimeException e) {
            interruption.explain(e);
            throw e;
        }
    }

    private Scratch.Opened another(Model model, String url) {
        Opened opened = database.openOn(settings, model, url);
        return new Scratch.Opened(opened.store(), opened::close);
    }

    private void leftovers(Talk talk, Opened opened) {
        List<String> left = Scratch.left(opened.store(), opened.url());
        for (String one : left) {
            if (removing) {
                Scratch.remove(opened.store(), one);
                talk.err().println("removed " + one);
            } else {
                talk.err()
                        .println("an earlier run has left " + one + ", unless it is still going on;"
                                + " --remove-leftovers takes it away");
            }
        }
    }

    private void draw(Report report) {
        if (chart == null) {
            return;
        }
        try {
            Files.write(
                    chart,
                    chart.toString().toLowerCase(Locale.ROOT).endsWith(".png")
                            ? MeasureChart.png(report)
                            : MeasureChart.svg(report).getBytes(StandardCharsets.UTF_8));
        } catch (IOException e) {
            throw new BathraException(chart + " cannot be written: " + e, e);
        }
    }

    /** Shows how far it has come, and stops it when that is wanted. */
    private static final class Watching implements Measure.Watcher, AutoCloseable {
        private final Interruption interruption;
        private final boolean shown;
        private @Nullable ProgressBar bar;

        Watching(Interruption interruption, boolean shown) {
            this.interruption = interruption;
            this.shown = shown;
        }

        @Override
        public void begins(String words, int number, int of, long rows) {
            close();
            if (shown) {
                bar = Progress.bar(number + "/" + of + " " + words)
                        .setInitialMax(rows)
                        .clearDisplayOnFinish()
                        .build();
            }
        }

        @Override
        public void did(long rows) {
            if (bar != null) {
                bar.stepTo(rows);
            }
        }

        @Override
        public void check() {
            interruption.check();
        }

        @Override
        public void close() {
            if (bar != null) {
                bar.close();
                bar = null;
            }
        }
    }
}
