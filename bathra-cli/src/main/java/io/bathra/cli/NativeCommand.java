package io.bathra.cli;

import io.bathra.cli.image.Hints;
import io.bathra.error.BathraException;
import io.bathra.model.Model;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Writes what a native image has to be told of a model. */
@Command(
        name = "native",
        header = "Writes what a native image has to be told.",
        description = "Finds the classes that Bathra reaches by reflection for a model, and those that "
                + "refer to attributes, and writes them as the builder of native images reads them. "
                + "What --classpath names is searched for callers. Do it anew when entities, queries or "
                + "records have come.",
        mixinStandardHelpOptions = true,
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra native META-INF/native-image/",
            "  bathra native --classpath 'target/classes:target/lib/*' \\",
            "    target/classes/META-INF/native-image/com.example/fleet"
        })
final class NativeCommand implements Runnable {
    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Mixin
    private SettingsOption settings = new SettingsOption();

    @Mixin
    private ModelOptions models = new ModelOptions();

    @Parameters(paramLabel = "FOLDER", description = "Where the files go; made where it is missing.")
    private Path folder = Path.of("");

    @Override
    public void run() {
        Model model = models.model(settings);
        List<Path> places = models.places(settings, model);
        Hints hints = Hints.of(model, places);
        if (hints.referring().isEmpty()) {
            throw new BathraException("no class of " + places + " refers to an attribute, though the model '"
                    + model.name() + "' does; name the jar or folder of the class that declares it in --classpath");
        }
        List<Path> files = hints.write(folder);
        Talk talk = new Talk(spec);
        talk.out()
                .printf(
                        Locale.ROOT,
                        "%s: %d classes and records%n%s: %d classes that refer to attributes%n",
                        files.get(0),
                        hints.reached().size(),
                        files.get(1),
                        hints.referring().size());
    }
}
