package io.bathra.cli;

import io.bathra.error.BathraException;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import java.net.URI;
import java.nio.file.Path;
import java.util.List;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** Which model: the options of all commands that work with one. */
final class ModelOptions {
    @Option(
            names = "--model",
            paramLabel = "CLASS#FIELD",
            description = "A static field with the model. Without it, the model that a ModelSource on the class path"
                    + " gives; without a class path, the harbour office.",
            order = 1)
    private @Nullable String model;

    @Option(
            names = "--classpath",
            paramLabel = "PATH",
            description = "Where the model's classes are: jars and folders, FOLDER/* for all jars of a folder.",
            order = 2)
    private @Nullable String classPath;

    /** The model that was asked for. */
    Model model(SettingsOption settings) {
        return Models.find(settings.given(model, "model"), settings.given(classPath, "classpath"));
    }

    /** Where the classes of the model are: what was named, else wherever they came from. */
    List<Path> places(SettingsOption settings, Model found) {
        String given = settings.given(classPath, "classpath");
        if (given != null) {
            return Models.paths(given);
        }
        return found.entities().stream()
                .map(entity -> entity.type().getProtectionDomain().getCodeSource())
                .filter(Objects::nonNull)
                .map(source -> Path.of(URI.create(String.valueOf(source.getLocation()))))
                .distinct()
                .toList();
    }

    /**
     * The entity of a name, in whatever case, or of a table.
     *
     * @throws BathraException when the model has none
     */
    static EntityOutline entity(Model model, String name) {
        return model.entities().stream()
                .filter(entity ->
                        entity.name().equalsIgnoreCase(name) || entity.table().equalsIgnoreCase(name))
                .findFirst()
                .orElseThrow(() -> new BathraException("the model '" + model.name() + "' has no entity '" + name
                        + "'; it has "
                        + model.entities().stream().map(EntityOutline::name).collect(Collectors.joining(", "))));
    }
}
