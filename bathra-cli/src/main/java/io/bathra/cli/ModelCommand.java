package io.bathra.cli;

import io.bathra.cli.DatabaseOptions.Opened;
import io.bathra.model.Model;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** A command that works with a model on a database, and may answer as JSON. */
@Command(mixinStandardHelpOptions = true, footerHeading = "%nExamples:%n", exitCodeListHeading = "%nExit codes:%n")
abstract class ModelCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Mixin
    private SettingsOption settings = new SettingsOption();

    @Mixin
    private ModelOptions models = new ModelOptions();

    @Mixin
    private DatabaseOptions database = new DatabaseOptions();

    @Option(names = "--json", description = "Prints the answer as JSON.")
    private boolean json;

    @Override
    public Integer call() {
        Model model = models.model(settings);
        try {
            prepare(model);
            try (Opened opened = database.open(settings, model)) {
                return work(new Talk(spec), opened);
            }
        } finally {
            end();
        }
    }

    /** Looks at what was asked for before a database is opened. */
    void prepare(Model model) {}

    /** Lets go of whatever {@link #prepare} has taken. */
    void end() {}

    /**
     * Does the work.
     *
     * @return the exit code
     */
    abstract int work(Talk talk, Opened opened);

    final boolean asJson() {
        return json;
    }
}
