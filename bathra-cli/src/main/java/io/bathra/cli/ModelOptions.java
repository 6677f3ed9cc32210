package io.bathra.cli;

import io.bathra.error.BathraException;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
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
