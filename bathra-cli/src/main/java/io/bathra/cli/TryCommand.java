package io.bathra.cli;

import io.bathra.cli.DatabaseOptions.Opened;
import io.bathra.cli.session.Desk;
import io.bathra.error.BathraException;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Season;
import io.bathra.model.Model;
import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** Works with a model and a database by hand, in Java. */
@Command(
        name = "try",
        header = "Works with a model and a database by hand, in Java.",
        description = "Executes what you enter in Java, with the model's classes at hand: query, change, "
                + "look at the SQL, store. It only reads until :write is said. Without a database of "
                + "yours, the harbour office on one in memory, with a season loaded. Commands begin "
                + "with a colon; :help lists them.",
        mixinStandardHelpOptions = true,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:done",
            "1:an entry of a script failed, or the database cannot be reached; it says at which line",
            "2:the command was not understood, or the input ends within an entry",
            "3:a script came to its end, but not all that it did was stored"
        },
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra try",
            "  bathra try --url jdbc:postgresql://db/harbour --user me --password",
            "  bathra try --classpath target/classes --url jdbc:h2:./fleet --write",
            "  bathra try --run entries.txt                  entries from a file, for scripts",
            "  echo 'work.from(Vessel.class).count()' | bathra try"
        })
final class TryCommand implements Callable<Integer> {
    private static final String EMBEDDED = "jdbc:h2:mem:harbour-to-try";

    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Mixin
    private SettingsOption settings = new SettingsOption();

    @Mixin
    private ModelOptions models = new ModelOptions();

    @Mixin
    private DatabaseOptions database = new DatabaseOptions();

    @Option(names = "--write", description = "Begins with writing, as :write does.")
    private boolean write;

    @Option(names = "--run", paramLabel = "FILE", description = "Executes the entries of a file, and ends.")
    private @Nullable Path script;

    @Override
    public Integer call() {
        if (ModuleLayer.boot().findModule("jdk.jshell").isEmpty()) {
            throw new BathraException("this Java has no shell (the module jdk.jshell), which executes what is entered;"
                    + " run the tool by a JDK in place of a runtime");
        }
        Model model = models.model(settings);
        boolean ownDatabase = database.isGiven(settings);
        boolean season = model == Harbour.MODEL && !ownDatabase;
        try (Opened opened = season ? database.open(settings, model, EMBEDDED) : database.open(settings, model)) {
            if (season) {
                opened.store().schema().createMissing();
                opened.store().run(Season.shipped()::addTo);
            } else if (!ownDatabase) {
                opened.store().schema().createMissing();
            }
            String place = season ? "H2 in memory, with a season loaded" : opened.place();
            Desk desk = new Desk(
                    opened.store(), opened::forsakeConnections, place, models.places(settings, model), loader(), write);
            return exitCode(script == null && Talk.isTerminal() ? desk.terminal(System.getenv()) : run(desk));
        }
    }

    private static ClassLoader loader() {
        ClassLoader loader = Thread.currentThread().getContextClassLoader();
        return loader == null ? TryCommand.class.getClassLoader() : loader;
    }

    private Desk.End run(Desk desk) {
        Talk talk = new Talk(spec);
        return desk.script(
                script,
                new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8)),
                talk.out(),
                talk.err());
    }

    private static int exitCode(Desk.End end) {
        return switch (end) {
            case DONE -> ExitCode.DONE;
            case STOPPED -> ExitCode.FAILED;
            case UNFINISHED -> ExitCode.NOT_UNDERSTOOD;
            case LOST -> ExitCode.LOOK;
        };
    }
}
