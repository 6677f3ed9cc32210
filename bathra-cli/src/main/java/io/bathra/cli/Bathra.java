package io.bathra.cli;

import io.bathra.error.BathraException;
import io.bathra.examples.harbour.BadLineException;
import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Objects;
import java.util.Properties;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.IVersionProvider;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Spec;

/** The tool's entry: {@code bathra COMMAND}. Results go to standard output, talk and errors to standard error. */
@Command(
        name = "bathra",
        description = "Bathra keeps object graphs in SQL databases, and shows what it does.",
        subcommands = {
            DemoCommand.class,
            ShowCommand.class,
            SchemaCommand.class,
            ChangeCommand.class,
            LoadCommand.class,
            SampleCommand.class,
            TryCommand.class,
            MeasureCommand.class,
            NativeCommand.class,
            ExampleCommand.class
        },
        mixinStandardHelpOptions = true,
        versionProvider = Bathra.Version.class,
        exitCodeListHeading = "%nExit codes:%n",
        exitCodeList = {
            "0:done",
            "1:the work failed: a database that cannot be reached, a file that cannot be read",
            "2:the command was not understood",
            "3:done, but there is something to look at: differences, rejected lines",
            "130:interrupted; nothing was stored"
        },
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra demo                              a season of the harbour office",
            "  bathra show --draw harbour.svg           its model, drawn",
            "  bathra schema create                     its tables, on an embedded database",
            "  bathra sample files/                     files to load",
            "  bathra load Operator files/operators.csv",
            "  bathra try                               work with the model by hand, in Java",
            "  bathra measure --chart ways.svg          which way is fastest on this database",
            "  bathra native META-INF/native-image/     what a native image has to be told",
            "  bathra example                           programs to read and run",
            "Each command has a --help of its own."
        })
public final class Bathra implements Runnable {
    private static final int HELP_WIDTH = 110;

    @Spec
    private CommandSpec spec = CommandSpec.create();

    public static void main(String[] args) {
        // Vessels have accents in their names, whatever the platform's encoding.
        PrintStream out = utf8(FileDescriptor.out);
        System.setOut(out); // where examples print
        PrintWriter err = new PrintWriter(utf8(FileDescriptor.err), true, StandardCharsets.UTF_8);
        System.exit(run(new PrintWriter(out, true, StandardCharsets.UTF_8), err, args));
    }

    private static PrintStream utf8(FileDescriptor descriptor) {
        return new PrintStream(new FileOutputStream(descriptor), true, StandardCharsets.UTF_8);
    }

    /**
     * Runs one command.
     *
     * @return the exit code
     */
    static int run(PrintWriter out, PrintWriter err, String... args) {
        return new CommandLine(new Bathra())
                .setOut(out)
                .setErr(err)
                .setExecutionExceptionHandler(Bathra::report)
                .setParameterExceptionHandler(Bathra::reject)
                .setUsageHelpWidth(isHelpWanted(args) ? Window.width(HELP_WIDTH) : HELP_WIDTH)
                .setCaseInsensitiveEnumValuesAllowed(true)
                .setColorScheme(CommandLine.Help.defaultColorScheme(Talk.ansi()))
                .execute(args);
    }

    /** A look at the terminal takes a tenth of a second, which only those wait who read lines of its width. */
    private static boolean isHelpWanted(String... args) {
        List<String> words = List.of(args);
        return words.contains("--help") || words.contains("-h");
    }

    /** What the user can do something about is a plain message; anything else is a fault of ours and shows all. */
    private static int report(Exception e, CommandLine command, CommandLine.ParseResult parsed) throws Exception {
        if (e instanceof Interruption.Stop) {
            return ExitCode.INTERRUPTED; // who has stopped it tells
        }
        if (e instanceof BathraException || e instanceof BadLineException) {
            command.getErr().println("bathra: " + e.getMessage());
            return ExitCode.FAILED;
        }
        throw e;
    }

    private static int reject(ParameterException e, String[] args) {
        CommandLine command = e.getCommandLine();
        command.getErr().println("bathra: " + e.getMessage());
        command.getErr().println("Try '" + command.getCommandSpec().qualifiedName() + " --help'.");
        return ExitCode.NOT_UNDERSTOOD;
    }

    @Override
    public void run() {
        throw new ParameterException(
                spec.commandLine(),
                "name a command: demo, show, schema, change, load, sample, try, measure, native or example");
    }

    /** The version that the build has written beside this class. */
    static final class Version implements IVersionProvider {
        @Override
        public String[] getVersion() throws IOException {
            Properties properties = new Properties();
            try (InputStream in = Bathra.class.getResourceAsStream("version.properties")) {
                properties.load(Objects.requireNonNull(in));
            }
            return new String[] {"bathra " + properties.getProperty("version")};
        }
    }
}
