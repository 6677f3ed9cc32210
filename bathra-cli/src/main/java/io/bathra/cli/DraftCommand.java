package io.bathra.cli;

import io.bathra.changes.SchemaChanges;
import io.bathra.error.BathraException;
import io.bathra.evolve.Change;
import io.bathra.evolve.Drafted;
import io.bathra.evolve.History.Wish;
import io.bathra.evolve.Tree;
import io.bathra.model.Model;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Drafts the next change file from the model. */
@Command(
        name = "draft",
        header = "Drafts the next change file: what the model asks for, and the files do not make yet.",
        description = "Compares the model with what all change files make, and writes the difference as the next file.",
        mixinStandardHelpOptions = true,
        footerHeading = "%nExamples:%n",
        footer = {
            "  bathra change draft berth depths",
            "  bathra change draft pilots --renamed Pilot.phone=mobile",
            "  bathra change draft countries --fill Operator.country=NO",
            "  bathra change draft countries \\",
            "    --fill 'Operator.country={ term: { upper: homePort } }'",
            "  bathra change draft pilots --renamed Pilot.phone=mobile --in-two-steps"
        })
final class DraftCommand implements Runnable {
    @Spec
    private CommandSpec spec = CommandSpec.create();

    @Mixin
    private SettingsOption settings = new SettingsOption();

    @Mixin
    private ModelOptions models = new ModelOptions();

    @Mixin
    private ChangeCommand.FolderOption folder = new ChangeCommand.FolderOption();

    @Parameters(arity = "1..*", paramLabel = "WORDS", description = "What it is about; the file is named so.")
    private List<String> words = List.of();

    @Option(
            names = "--renamed",
            paramLabel = "OLD=NEW",
            description =
                    "What only has another name: Pilot=Guide, Pilot.phone=mobile. Nothing is taken for renamed unasked.",
            order = 4)
    private List<String> renamed = List.of();

    @Option(
            names = "--fill",
            paramLabel = "NAME=VALUE",
            description = "What rows that are there get in an attribute that must have a value: a value, { term: … } or"
                    + " { sql: { any: … } }.",
            order = 5)
    private List<String> fills = List.of();

    @Option(
            names = "--in-two-steps",
            description = "Writes two files: one that the release before survives, and one for the release after.")
    private boolean inTwoSteps;

    @Option(names = "--dry-run", description = "Shows the file, and writes nothing.")
    private boolean dryRun;

    @Override
    public void run() {
        Talk talk = new Talk(spec);
        Model model = models.model(settings);
        SchemaChanges changes = folder.changes();
        Map<String, String> names = new LinkedHashMap<>();
        for (String one : renamed) {
            Map.Entry<String, String> name = SchemaChanges.renamed(one);
            names.put(name.getKey(), name.getValue());
        }
        Map<String, Tree> values = new LinkedHashMap<>();
        for (String one : fills) {
            Map.Entry<String, String> value = pair(one);
            values.put(value.getKey(), SchemaChanges.fill(value.getKey(), value.getValue()));
        }
        Drafted drafted = draft(changes, model, names, values);
        if (drafted.nothingToDo()) {
            talk.err().println("nothing to do: " + drafted.lookedAt());
            return;
        }
        if (!drafted.wanting().isEmpty() && !inTwoSteps) {
            throw new BathraException("these must have a value, and rows that are there would have none: "
                    + String.join(", ", drafted.wanting()) + "; say what they get with --fill "
                    + drafted.wanting().get(0) + "=…, or draft --in-two-steps");
        }
        if (dryRun) {
            drafted.changes()
                    .forEach(change ->
                            talk.out().println(SchemaChanges.text(change).stripTrailing()));
        } else {
            List<Path> files = changes.write(drafted);
            for (int i = 0; i < files.size(); i++) {
                Change change = drafted.changes().get(i);
                talk.out().println(SchemaChanges.text(change).stripTrailing());
                talk.err()
                        .println("written to " + files.get(i) + ": "
                                + change.steps().size() + (change.steps().size() == 1 ? " step" : " steps")
                                + "; read it before it is applied");
            }
        }
        drafted.wanting()
                .forEach(name -> talk.err()
                        .println(name
                                + " must have a value in the end; see to it that each row has one before the second"
                                + " file, or give a fill"));
    }

    /** A file is drafted anew for each rename that a person at a terminal tells. */
    private Drafted draft(SchemaChanges changes, Model model, Map<String, String> names, Map<String, Tree> values) {
        Set<Drafted.Possible> asked = new HashSet<>();
        while (true) {
            Drafted drafted = changes.draft(String.join(" ", words), model, new Wish(names, values, inTwoSteps));
            Drafted.Possible next = Talk.isTerminal()
                    ? drafted.possible().stream().filter(asked::add).findFirst().orElse(null)
                    : null;
            if (next == null) {
                return drafted;
            }
            if (isRenamed(next)) {
                names.put(next.name(), next.newName());
            }
        }
    }

    private static boolean isRenamed(Drafted.Possible possible) {
        String answer = Objects.requireNonNull(System.console())
                .readLine("%s goes and %s comes. Is it only another name? [y/N] ", possible.name(), possible.newName());
        return answer != null && answer.strip().toLowerCase(Locale.ROOT).startsWith("y");
    }

    private static Map.Entry<String, String> pair(String text) {
        int equals = text.indexOf('=');
        if (equals < 1) {
            throw new BathraException("'" + text + "' gives no value; write Operator.country=NO");
        }
        return Map.entry(text.substring(0, equals).strip(), text.substring(equals + 1));
    }
}
