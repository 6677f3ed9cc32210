package io.bathra.cli;

import io.bathra.DatabaseProduct;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.Shown;
import io.bathra.evolve.Verdict;
import io.bathra.model.Model;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Help.Ansi;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Change files: what leads from one model to the next. */
@Command(
        name = "change",
        header = "Drafts change files from the model, tells what they do, and applies them.",
        description = "Change files lead the tables from one model to the next. They are drafted, shown and "
                + "checked without a database.",
        subcommands = {
            DraftCommand.class,
            ChangeCommand.Show.class,
            ChangeCommand.Check.class,
            ChangeCommand.Reorder.class,
            ApplyCommands.Apply.class,
            ApplyCommands.Status.class,
            ApplyCommands.Adopt.class
        },
        mixinStandardHelpOptions = true,
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra change draft berth depths",
            "  bathra change show 2026-12-03-berth-depths --dialect mariadb",
            "  bathra change check 2026-12-03-berth-depths",
            "  bathra change apply --url jdbc:postgresql://db/harbour --user me --password"
        })
final class ChangeCommand implements Runnable {
    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Override
    public void run() {
        throw new ParameterException(
                spec.commandLine(), "say what to do with changes: draft, show, check, reorder, apply, status or adopt");
    }

    /** Where the files are. */
    static final class FolderOption {
        @Option(
                names = "--changes",
                paramLabel = "FOLDER",
                description = "Where the change files are; 'changes' in the working folder if left out.",
                order = 3)
        private Path folder = Path.of("changes");

        SchemaChanges changes() {
            return SchemaChanges.of(folder);
        }
    }

    /** A file's name, with or without its folder and extension. */
    static String name(String file) {
        String name = String.valueOf(Path.of(file).getFileName());
        return name.endsWith(".yaml") ? name.substring(0, name.length() - ".yaml".length()) : name;
    }

    /** Shows what is executed. */
    @Command(
            name = "show",
            header = "Shows the statements of a change file, step by step.",
            description = "Shows what is executed for each step on a product; behind each statement what it "
                    + "locks, whether it reads or copies all rows, and whether a rollback takes it back.",
            mixinStandardHelpOptions = true,
            footerHeading = "%nExamples:%n",
            footer = {"  bathra change show 2026-12-03-berth-depths --dialect postgresql"})
    static final class Show implements Runnable {
        @Spec
        private CommandSpec spec = CommandSpec.create();

        @Mixin
        private SettingsOption settings = new SettingsOption();

        @Mixin
        private ModelOptions models = new ModelOptions();

        @Mixin
        private FolderOption folder = new FolderOption();

        @Parameters(paramLabel = "FILE", description = "A change file, by its name.")
        private String file = "";

        @Option(
                names = "--dialect",
                paramLabel = "DATABASE",
                description = "One of ${COMPLETION-CANDIDATES}.",
                defaultValue = "H2")
        private DatabaseProduct product = DatabaseProduct.H2;

        @Option(names = "--json", description = "Prints the answer as JSON.")
        private boolean json;

        @Override
        public void run() {
            Talk talk = new Talk(spec);
            Model model = models.model(settings);
            List<Shown> steps = folder.changes().history().show(name(file), product, model.databaseSchema());
            if (json) {
                talk.json(steps);
                return;
            }
            Ansi ansi = Talk.ansi();
            for (Shown step : steps) {
                talk.out().println(ansi.string("@|bold " + step.step() + "|@"));
                if (step.statements().isEmpty()) {
                    talk.out().println("  nothing to do on " + product);
                }
                step.statements().forEach(statement -> tell(statement, talk.out()));
            }
        }

        private static void tell(Shown.Statement statement, PrintWriter out) {
            out.println("  " + statement.sql().replace("\n", "\n  ") + ";");
            if (!statement.options().isEmpty()) {
                String options = statement.options().stream()
                        .map(option -> option.replaceFirst("^,", "").strip())
                        .collect(Collectors.joining("; "));
                out.println(Talk.ansi().string("@|faint       tried first with: " + options + "|@"));
            }
            String work = switch (statement.work()) {
                case CATALOGUE -> "touches no rows";
                case SCAN -> "reads all rows";
                case REWRITE -> statement.repeated() ? "writes all rows, some at a time" : "writes or copies all rows";
            };
            String back = statement.alone()
                    ? "outside a transaction"
                    : statement.reversible() ? "a rollback takes it back" : "stays, whatever happens behind it";
            String costs = "      locks: " + statement.lock() + "; " + work + "; " + back;
            out.println(Talk.ansi().string("@|faint " + costs + "|@"));
        }
    }

    /** Tells whether the previous release survives. */
    @Command(
            name = "check",
            header = "Tells whether the release before goes on working.",
            description = "Tells for each step whether a program of the release before, which is still running, "
                    + "goes on with its reads, inserts and updates.",
            mixinStandardHelpOptions = true,
            exitCodeListHeading = "%nExit codes:%n",
            exitCodeList = {"0:it goes on", "3:something breaks, or may"},
            footerHeading = "%nExamples:%n",
            footer = {"  bathra change check 2026-12-03-berth-depths"})
    static final class Check implements Callable<Integer> {
        @Spec
        private CommandSpec spec = CommandSpec.create();

        @Mixin
        private FolderOption folder = new FolderOption();

        @Parameters(paramLabel = "FILE", description = "A change file, by its name.")
        private String file = "";

        @Option(names = "--json", description = "Prints the answer as JSON.")
        private boolean json;

        @Override
        public Integer call() {
            Talk talk = new Talk(spec);
            List<Verdict> verdicts = folder.changes().history().check(name(file));
            boolean harmless = verdicts.stream().allMatch(Verdict::isHarmless);
            if (json) {
                talk.json(verdicts);
            } else {
                tell(verdicts, talk.out());
                talk.err()
                        .println(
                                harmless
                                        ? "the release before goes on working: " + counted(verdicts)
                                        : "the release before does not survive it: " + counted(verdicts)
                                                + "; 'draft --in-two-steps' writes a file that it survives, and one for when"
                                                + " it is gone");
            }
            return harmless ? ExitCode.DONE : ExitCode.LOOK;
        }

        private static String counted(List<Verdict> verdicts) {
            return verdicts.size() + (verdicts.size() == 1 ? " step" : " steps") + " looked at";
        }

        private static void tell(List<Verdict> verdicts, PrintWriter out) {
            Ansi ansi = Talk.ansi();
            int width = Math.max(
                    4,
                    verdicts.stream().mapToInt(one -> one.step().length()).max().orElse(0));
            String line = "%-" + width + "s  %-9s  %-9s  %s";
            out.println(ansi.string("@|bold " + String.format(line, "step", "reads", "inserts", "updates") + "|@"));
            for (Verdict one : verdicts) {
                String row = String.format(line, one.step(), one.reads(), one.inserts(), one.updates());
                out.println(one.isHarmless() ? row : ansi.string("@|yellow " + row + "|@"));
                if (!one.why().isEmpty()) {
                    out.println("    " + one.why());
                }
            }
        }
    }

    /** Puts files of two branches in order. */
    @Command(
            name = "reorder",
            header = "Puts a change file behind one that was written at the same time.",
            description = "Where two branches each wrote a file after the same one: puts this one behind the "
                    + "other, if they do not touch the same thing.",
            mixinStandardHelpOptions = true,
            footerHeading = "%nExamples:%n",
            footer = {"  bathra change reorder 2026-12-03-berth-depths"})
    static final class Reorder implements Runnable {
        @Spec
        private CommandSpec spec = CommandSpec.create();

        @Mixin
        private FolderOption folder = new FolderOption();

        @Parameters(paramLabel = "FILE", description = "The change file that is to come later, by its name.")
        private String file = "";

        @Override
        public void run() {
            String after = folder.changes().reorder(name(file));
            new Talk(spec).err().println(name(file) + " comes after " + after + " now");
        }
    }
}
