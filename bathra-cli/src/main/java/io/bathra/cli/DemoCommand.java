package io.bathra.cli;

import io.bathra.cli.DatabaseOptions.Opened;
import io.bathra.error.BathraException;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Season;
import java.io.PrintWriter;
import java.nio.file.Path;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** Stores a season of the harbour office, lives through a working day, and shows each step. */
@Command(
        name = "demo",
        header = "Tells the story of a harbour office on a database of yours, or an embedded one.",
        description = "Stores a season of a made-up harbour office, lives through a working day, and shows each step: "
                + "the model, the plan, the SQL, the changes found, and the row counts in the end.",
        mixinStandardHelpOptions = true,
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra demo",
            "  bathra demo --url jdbc:postgresql://db/harbour --user me --password",
            "  bathra demo --data my-season/"
        })
final class DemoCommand implements Runnable {
    private static final String EMBEDDED = "jdbc:h2:mem:harbour";

    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Mixin
    private SettingsOption settings = new SettingsOption();

    @Mixin
    private DatabaseOptions database = new DatabaseOptions();

    @Option(
            names = "--data",
            paramLabel = "FOLDER",
            description = "A folder with the eight CSV files of a season of your own.")
    private @Nullable Path folder;

    @Mixin
    private PageOption page = new PageOption();

    @Option(names = "--wipe", description = "First removes whatever rows an earlier demo has left in that database.")
    private boolean wipe;

    @Override
    public void run() {
        page.recorded("A season and a day at the harbour office", () -> {
            tell();
            return true;
        });
    }

    private void tell() {
        PrintWriter out = spec.commandLine().getOut();
        Season season = folder == null ? Season.shipped() : Season.in(folder);
        try (Opened opened = database.open(settings, Harbour.MODEL, EMBEDDED)) {
            DemoStory story = new DemoStory(opened.store(), season, out, Talk.ansi());
            story.tellModel(opened.place());
            story.createTables();
            if (wipe) {
                story.wipe();
            } else if (story.hasRows()) {
                throw new BathraException("the harbour's tables in " + opened.place()
                        + " have rows already; run the demo with --wipe" + " to remove them, or on another database");
            }
            story.storeSeason();
            story.readWithoutDetours();
            story.liveADay();
            story.storeMany();
            story.checkAgainstFiles();
            story.sayWhatIsNext();
        }
    }
}
