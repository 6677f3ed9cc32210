package io.bathra.cli;

import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Season;
import java.io.PrintWriter;
import java.nio.file.Path;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Help.Ansi;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** Stores a season of the harbour office, lives through a working day, and shows each step. */
@Command(
        name = "demo",
        description = {
            "Stores a season of a made-up harbour office, lives through a working day, and shows each step:",
            "the model, the plan, the SQL, the changes found, and the row counts in the end."
        },
        mixinStandardHelpOptions = true,
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra demo",
            "  bathra demo --url jdbc:postgresql://localhost/harbour --user me --password secret",
            "  bathra demo --data my-season/"
        })
final class DemoCommand implements Runnable {
    private static final String EMBEDDED = "jdbc:h2:mem:harbour";

    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Option(
            names = "--url",
            paramLabel = "URL",
            description = "The database, as a JDBC URL. An embedded H2 in memory if left out.")
    private String url = EMBEDDED;

    @Option(names = "--user", paramLabel = "NAME", description = "The database's user.")
    private @Nullable String user;

    @Option(
            names = "--password",
            paramLabel = "WORD",
            description = "The user's password. Asked for when no word follows.",
            arity = "0..1",
            interactive = true)
    private @Nullable String password;

    @Option(
            names = "--data",
            paramLabel = "FOLDER",
            description = "A folder with the six CSV files of a season of your own.")
    private @Nullable Path folder;

    @Option(names = "--wipe", description = "First removes whatever rows an earlier demo has left in that database.")
    private boolean wipe;

    @Override
    public void run() {
        PrintWriter out = spec.commandLine().getOut();
        Season season = folder == null ? Season.shipped() : Season.in(folder);
        try (Store store = Store.open(Harbour.MODEL, url, user, password)) {
            DemoStory story = new DemoStory(store, season, out, ansi());
            story.tellModel(url);
            story.createTables();
            if (wipe) {
                story.wipe();
            } else if (story.hasRows()) {
                throw new BathraException("the harbour's tables in " + url
                        + " have rows already; run the demo with --wipe" + " to remove them, or on another database");
            }
            story.storeSeason();
            story.readWithoutDetours();
            story.liveADay();
            story.checkAgainstFiles();
        }
    }

    /** Colours only for a terminal, and not where NO_COLOR is set. */
    private static Ansi ansi() {
        boolean terminal = System.console() != null && System.getenv("NO_COLOR") == null;
        return terminal ? Ansi.ON : Ansi.OFF;
    }
}
