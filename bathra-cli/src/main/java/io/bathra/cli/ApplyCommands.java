package io.bathra.cli;

import io.bathra.changes.SchemaChanges;
import io.bathra.cli.DatabaseOptions.Opened;
import io.bathra.evolve.ApplyTerms;
import io.bathra.evolve.Evolution;
import io.bathra.evolve.FileState;
import java.io.PrintWriter;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Help.Ansi;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** The commands that hold change files beside a database. */
final class ApplyCommands {
    private ApplyCommands() {}

    /** What several of them ask for. */
    static final class TermsOptions {
        @Option(names = "--until", paramLabel = "FILE", description = "The last file; all if left out.")
        private @Nullable String until;

        ApplyTerms terms() {
            return until == null ? ApplyTerms.ALL : ApplyTerms.ALL.until(ChangeCommand.name(until));
        }
    }

    private static Evolution evolution(ChangeCommand.FolderOption folder, Opened opened, Talk talk) {
        SchemaChanges changes = folder.changes().on(opened.store());
        return changes.evolution().told(line -> talk.err().println(line));
    }

    /** Applies. */
    @Command(
            name = "apply",
            header = "Applies the change files that a database has not had.",
            description = "Applies what the database has not had, in order, and notes it in the table "
                    + "bathra_change. Of several that do so at once, one works and the others wait. Whoever "
                    + "was stopped in between is gone on with.",
            exitCodeList = {"0:all files are applied"},
            footer = {
                "  bathra change apply --dry-run",
                "  bathra change apply --url jdbc:postgresql://db/harbour --user me --password",
                "  bathra change apply --losing 2026-12-04-seals-go"
            })
    static final class Apply extends ModelCommand {
        @Mixin
        private ChangeCommand.FolderOption folder = new ChangeCommand.FolderOption();

        @Mixin
        private TermsOptions options = new TermsOptions();

        @Option(
                names = "--losing",
                paramLabel = "FILE",
                description = "A file that may lose rows or values; none may unasked.")
        private List<String> losing = List.of();

        @Option(names = "--dry-run", description = "Says which files would be applied, and does nothing.")
        private boolean dryRun;

        @Option(
                names = "--wait",
                paramLabel = "SECONDS",
                description = "How long to wait for somebody else who applies changes.",
                defaultValue = "600")
        private long wait = 600;

        @Override
        int work(Talk talk, Opened opened) {
            Evolution evolution = evolution(folder, opened, talk);
            ApplyTerms terms = options.terms().waiting(Duration.ofSeconds(wait));
            for (String one : losing) {
                terms = terms.losing(ChangeCommand.name(one));
            }
            List<String> files = dryRun ? evolution.pending(terms) : evolution.apply(terms);
            if (asJson()) {
                talk.json(Map.of(dryRun ? "pending" : "applied", files));
            } else if (files.isEmpty()) {
                talk.err().println(evolution.nothingToDo() + ", on " + opened.place());
            } else if (dryRun) {
                files.forEach(talk.out()::println);
                talk.err()
                        .println(files.size() + (files.size() == 1 ? " file" : " files") + " would be applied on "
                                + opened.place());
            } else {
                files.forEach(talk.out()::println);
                talk.err()
                        .println(files.size() + (files.size() == 1 ? " file" : " files") + " applied on "
                                + opened.place());
            }
            return ExitCode.DONE;
        }
    }

    /** Tells. */
    @Command(
            name = "status",
            header = "Tells which change files a database has had.",
            description =
                    "A line for each file: applied when and by whom, begun, pending, changed since, or missing here.",
            exitCodeList = {"0:all files are applied", "3:something is pending, differs, or is missing"},
            footer = {"  bathra change status", "  bathra change status --url jdbc:sqlite:harbour.db --json"})
    static final class Status extends ModelCommand {
        @Mixin
        private ChangeCommand.FolderOption folder = new ChangeCommand.FolderOption();

        @Override
        int work(Talk talk, Opened opened) {
            List<FileState> states = evolution(folder, opened, talk).status();
            boolean all = states.stream().allMatch(one -> one.state() == FileState.State.APPLIED);
            if (asJson()) {
                talk.json(states.stream().map(Status::fields).toList());
            } else {
                tell(states, talk.out());
                talk.err()
                        .println((all ? "all applied: " : "not all applied: ") + states.size()
                                + (states.size() == 1 ? " file" : " files") + ", on " + opened.place());
            }
            return all ? ExitCode.DONE : ExitCode.LOOK;
        }

        private static Map<String, @Nullable Object> fields(FileState one) {
            Map<String, @Nullable Object> fields = new LinkedHashMap<>();
            fields.put("name", one.name());
            fields.put("state", one.state().name());
            fields.put("begunAt", one.begunAt() == null ? null : one.begunAt().toString());
            fields.put("endedAt", one.endedAt() == null ? null : one.endedAt().toString());
            fields.put("millis", one.took().map(Duration::toMillis).orElse(null));
            fields.put("by", one.by());
            return fields;
        }

        private static String words(Duration took) {
            return took.toMinutes() > 0
                    ? took.toMinutes() + " min " + took.toSecondsPart() + " s"
                    : String.format(Locale.ROOT, "%.2f s", took.toMillis() / 1_000.0);
        }

        private static void tell(List<FileState> states, PrintWriter out) {
            Ansi ansi = Talk.ansi();
            int width = Math.max(
                    4,
                    states.stream().mapToInt(one -> one.name().length()).max().orElse(0));
            String line = "%-" + width + "s  %-8s  %-20s  %9s  %s";
            out.println(ansi.string("@|bold " + String.format(line, "file", "state", "when", "took", "by") + "|@"));
            for (FileState one : states) {
                Instant when = one.endedAt() == null ? one.begunAt() : one.endedAt();
                String row = String.format(
                                line,
                                one.name(),
                                one.state(),
                                when == null ? "" : when.truncatedTo(ChronoUnit.SECONDS),
                                one.took().map(Status::words).orElse(""),
                                Objects.requireNonNullElse(one.by(), ""))
                        .stripTrailing();
                out.println(one.state() == FileState.State.APPLIED ? row : ansi.string("@|yellow " + row + "|@"));
            }
        }
    }

    /** Takes files for applied. */
    @Command(
            name = "adopt",
            header = "Takes change files for applied on a database that was made otherwise.",
            description = "Compares the tables with what the files make, and notes the files as applied if they agree.",
            exitCodeList = {"0:the files are taken for applied"},
            footer = {"  bathra change adopt --url jdbc:postgresql://db/harbour --user me --password"})
    static final class Adopt extends ModelCommand {
        @Mixin
        private ChangeCommand.FolderOption folder = new ChangeCommand.FolderOption();

        @Mixin
        private TermsOptions options = new TermsOptions();

        @Override
        int work(Talk talk, Opened opened) {
            Evolution evolution = evolution(folder, opened, talk);
            List<String> files = evolution.adopt(options.terms());
            if (asJson()) {
                talk.json(Map.of("adopted", files));
            } else if (files.isEmpty()) {
                talk.err().println(evolution.nothingToDo() + ", on " + opened.place());
            } else {
                files.forEach(talk.out()::println);
                talk.err()
                        .println(files.size() + (files.size() == 1 ? " file" : " files") + " taken for applied on "
                                + opened.place());
            }
            return ExitCode.DONE;
        }
    }
}
