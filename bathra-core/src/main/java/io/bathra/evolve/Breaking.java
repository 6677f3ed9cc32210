package io.bathra.evolve;

import io.bathra.history.DataStep;
import io.bathra.history.FieldStep;
import io.bathra.history.RuleStep;
import io.bathra.history.SchemaStep;
import io.bathra.history.SheetStep;
import io.bathra.schema.Layout;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What of a file breaks programs of releases before it. Whoever applies the file leaves that in the ledger, for programs
 * that do not have the file: a line for each step, with what it concerns in front.
 */
final class Breaking {
    private static final char BEHIND_SUBJECT = '\t';

    private Breaking() {}

    /** What is kept of a file; null for one that breaks nobody. */
    static @Nullable String note(Played played) {
        List<String> lines = new ArrayList<>();
        for (SchemaStep step : played.steps()) {
            Verdict verdict = Survival.of(step);
            if (!verdict.isHarmless()) {
                lines.add(subject(step) + BEHIND_SUBJECT + step.title() + " (" + verdict.why() + ")");
            }
        }
        return lines.isEmpty() ? null : String.join("\n", lines);
    }

    /** What is kept of a file, as far as it concerns a program of a layout: one that has no such field does not mind. */
    static List<String> of(@Nullable String note, Layout layout) {
        if (note == null) {
            return List.of();
        }
        return note.lines()
                .filter(line -> isKnown(line.substring(0, line.indexOf(BEHIND_SUBJECT)), layout))
                .map(line -> line.substring(line.indexOf(BEHIND_SUBJECT) + 1))
                .toList();
    }

    private static boolean isKnown(String subject, Layout layout) {
        return subject.isEmpty()
                || layout.sheet(subject).isPresent()
                || layout.owner(subject)
                        .flatMap(sheet ->
                                sheet.field(subject.substring(sheet.name().length() + 1)))
                        .isPresent();
    }

    /** A new field concerns all who write rows of the entity; what becomes of one that is there, those who know it. */
    private static String subject(SchemaStep step) {
        if (step instanceof FieldStep.Add add) {
            return add.sheet();
        } else if (step instanceof FieldStep.Drop drop) {
            return drop.sheet() + "." + drop.name();
        } else if (step instanceof FieldStep.Rename rename) {
            return rename.sheet() + "." + rename.name();
        } else if (step instanceof FieldStep.Change change) {
            return change.sheet() + "." + change.field().name();
        } else if (step instanceof RuleStep rule) {
            return rule.sheet();
        } else if (step instanceof SheetStep.Drop drop) {
            return drop.name();
        } else if (step instanceof SheetStep.Rename rename) {
            return rename.name();
        } else if (step instanceof SheetStep.ChangeKey key) {
            return key.sheet();
        } else if (step instanceof DataStep.Move move) {
            return move.sheet();
        }
        return "";
    }
}
