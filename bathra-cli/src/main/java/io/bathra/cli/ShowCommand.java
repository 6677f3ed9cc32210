package io.bathra.cli;

import io.bathra.cli.diagram.Diagram;
import io.bathra.error.BathraException;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Shows a model as text, as a drawing, or as JSON. */
@Command(
        name = "show",
        header = "Shows a model as text, drawn, or as JSON.",
        description = "Entities with their columns, associations, delete rules and constraints.",
        mixinStandardHelpOptions = true,
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra show                                   the harbour office",
            "  bathra show Vessel PortCall                   two of its entities",
            "  bathra show --draw harbour.svg                drawn; .png will do as well",
            "  bathra show --classpath target/classes        the model of your own project",
            "  bathra show --model com.example.Fleet#MODEL \\",
            "    --classpath 'target/classes:target/lib/*'"
        })
final class ShowCommand implements Runnable {
    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Mixin
    private SettingsOption settings = new SettingsOption();

    @Mixin
    private ModelOptions models = new ModelOptions();

    @Parameters(arity = "0..*", paramLabel = "ENTITY", description = "Entities to show; all of them if left out.")
    private List<String> entities = List.of();

    @Option(
            names = "--draw",
            paramLabel = "FILE",
            description = "Draws the model into a file, as SVG or PNG by the ending of its name.")
    private @Nullable Path drawing;

    @Option(names = "--json", description = "Prints the model as JSON.")
    private boolean json;

    @Override
    public void run() {
        Talk talk = new Talk(spec);
        Model model = models.model(settings);
        List<EntityOutline> shown = entities.isEmpty()
                ? model.entities()
                : entities.stream()
                        .map(name -> ModelOptions.entity(model, name))
                        .toList();
        if (drawing != null) {
            draw(model, drawing);
            talk.err().println("drawn into " + drawing);
        } else if (json) {
            talk.json(ModelJson.of(model, shown));
        } else if (entities.isEmpty()) {
            talk.out().println(Window.wrapped(model.describe(), Window.width(Integer.MAX_VALUE)));
        } else {
            String words =
                    shown.stream().map(entity -> model.describe(entity.type())).collect(Collectors.joining("\n\n"));
            talk.out().println(Window.wrapped(words, Window.width(Integer.MAX_VALUE)));
        }
    }

    private static void draw(Model model, Path file) {
        String name = file.toString();
        boolean png = name.endsWith(".png");
        if (!png && !name.endsWith(".svg")) {
            throw new BathraException("a drawing is SVG or PNG, so '" + name + "' has to end with .svg or .png");
        }
        Diagram diagram = Diagram.of(model);
        try {
            Files.write(file, png ? diagram.png() : diagram.svg().getBytes(StandardCharsets.UTF_8));
        } catch (IOException e) {
            throw new BathraException(file + " cannot be written: " + e, e);
        }
    }
}
