package io.bathra.cli;

import io.bathra.DatabaseProduct;
import io.bathra.LiveSchema;
import io.bathra.SchemaReport;
import io.bathra.cli.DatabaseOptions.Opened;
import io.bathra.model.Difference;
import io.bathra.model.Model;
import java.io.PrintWriter;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Help.Ansi;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Spec;

/** The tables of a model: as SQL, created, or compared with those of a database. */
@Command(
        name = "schema",
        header = "Prints, creates or verifies the tables of a model.",
        subcommands = {SchemaCommand.Print.class, SchemaCommand.Create.class, SchemaCommand.Verify.class},
        mixinStandardHelpOptions = true,
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra schema print --dialect mariadb",
            "  bathra schema create --url jdbc:postgresql://db/harbour --user me --password",
            "  bathra schema verify --url jdbc:sqlite:harbour.db"
        })
final class SchemaCommand implements Runnable {
    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Override
    public void run() {
        throw new ParameterException(spec.commandLine(), "say what to do with the schema: print, create or verify");
    }

    /** Prints the statements that create all tables. */
    @Command(
            name = "print",
            header = "Prints the statements that create all tables.",
            description = "Prints the statements that create all tables in an empty database. None need be there.",
            mixinStandardHelpOptions = true,
            footerHeading = "%nExamples:%n",
            footer = {"  bathra schema print", "  bathra schema print --dialect postgresql > harbour.sql"})
    static final class Print implements Runnable {
        @Spec
        private CommandSpec spec = CommandSpec.create();

        @Mixin
        private SettingsOption settings = new SettingsOption();

        @Mixin
        private ModelOptions models = new ModelOptions();

        @Mixin
        private DatabaseOptions database = new DatabaseOptions();

        @Option(
                names = "--dialect",
                paramLabel = "DATABASE",
                description = "One of ${COMPLETION-CANDIDATES}. If left out: the database of --url, else H2.")
        private @Nullable DatabaseProduct product;

        @Override
        public void run() {
            Model model = models.model(settings);
            PrintWriter out = new Talk(spec).out();
            statements(model).forEach(statement -> out.println(statement + ";"));
        }

        private List<String> statements(Model model) {
            if (product != null) {
                return product.createStatements(model);
            }
            try (Opened opened = database.open(settings, model, "jdbc:h2:mem:print")) {
                return opened.store().schema().statements();
            }
        }
    }

    /** Creates what is missing. */
    @Command(
            name = "create",
            header = "Creates the tables that are not there.",
            description = "Creates the tables that are not there; tables that are there are left alone.",
            exitCodeList = {"0:all tables are as they should be", "3:tables that were there lack something"},
            footer = {
                "  bathra schema create",
                "  bathra schema create --url jdbc:mariadb://db/harbour --user me --password"
            })
    static final class Create extends ModelCommand {
        @Override
        int work(Talk talk, Opened opened) {
            Model model = opened.store().model();
            SchemaReport report = opened.store().schema().createMissing();
            if (asJson()) {
                talk.json(report);
            } else {
                report.statements().forEach(statement -> talk.out().println(statement + ";"));
                talk.err()
                        .println(
                                report.nothingToDo()
                                        ? "nothing to do: all of '" + model.name() + "' is there, on " + opened.place()
                                                + "\nlooked at " + report.lookedAt()
                                        : report.statements().size() + " statements executed on " + opened.place());
                tell(report.missing(), talk.err());
            }
            return report.missing().isEmpty() ? ExitCode.DONE : ExitCode.LOOK;
        }
    }

    /** Compares. */
    @Command(
            name = "verify",
            header = "Compares a database with the model.",
            description = "Compares a database with the model, and lists the differences.",
            exitCodeList = {"0:no difference", "3:there are differences"},
            footer = {
                "  bathra schema verify",
                "  bathra schema verify --move-generators --url jdbc:h2:./harbour",
                "  bathra schema verify --url jdbc:postgresql://db/harbour --user me --json"
            })
    static final class Verify extends ModelCommand {
        @Option(
                names = "--move-generators",
                description = "First moves on the generators that lag behind the keys that are stored.")
        private boolean moveGenerators;

        @Override
        int work(Talk talk, Opened opened) {
            Model model = opened.store().model();
            LiveSchema schema = opened.store().schema();
            if (moveGenerators) {
                List<Difference> moved = schema.moveGenerators();
                moved.forEach(one -> talk.err().println("moved on: " + one));
                if (moved.isEmpty()) {
                    talk.err().println("no generator lags behind");
                }
            }
            List<Difference> differences = schema.verify();
            if (asJson()) {
                talk.json(differences);
            } else {
                tell(differences, talk.out());
                talk.err().println(counted(differences, "'" + model.name() + "' compared with " + opened.place()));
                talk.err().println("looked at " + schema.lookedAt());
            }
            return differences.isEmpty() ? ExitCode.DONE : ExitCode.LOOK;
        }
    }

    /** How many there are, and what their marks mean. */
    private static String counted(List<Difference> differences, String where) {
        if (differences.isEmpty()) {
            return "no difference: " + where;
        }
        boolean open = differences.stream().anyMatch(one -> one.kind() == Difference.Kind.NOT_COMPARED);
        return differences.size() + (differences.size() == 1 ? " difference" : " differences")
                + " (! has to be mended, ~ is more than the model asks for"
                + (open ? ", ? could not be compared): " : "): ") + where;
    }

    /** Differences by table. */
    private static void tell(List<Difference> differences, PrintWriter writer) {
        Ansi ansi = Talk.ansi();
        String table = "";
        for (Difference difference : differences) {
            String place = difference.place();
            int dot = place.indexOf('.');
            String own = dot < 0 ? place : place.substring(0, dot);
            if (!own.equals(table)) {
                writer.println(ansi.string("@|bold " + own + "|@"));
                table = own;
            }
            String inside = dot < 0 ? "" : place.substring(dot + 1) + ": ";
            String line = inside + difference.found();
            String mark = switch (difference.kind()) {
                case LACKING -> "@|red,bold !|@";
                case BEYOND -> "@|blue,bold ~|@";
                case NOT_COMPARED -> "@|yellow,bold ?|@";
            };
            writer.println("  " + ansi.string(mark) + " " + line);
        }
    }
}
