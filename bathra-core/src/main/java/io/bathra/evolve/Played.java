package io.bathra.evolve;

import io.bathra.history.SchemaStep;
import io.bathra.history.StepMisfit;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.ArrayList;
import java.util.List;

/**
 * A file that was replayed.
 *
 * @param steps its steps
 * @param before the layout before each of them
 * @param after the layout after the last one
 */
record Played(Change change, List<SchemaStep> steps, List<Layout> before, Layout after) {
    Played {
        steps = List.copyOf(steps);
        before = List.copyOf(before);
    }

    static Played of(Change change, Layout begin) {
        List<SchemaStep> steps = new ArrayList<>();
        List<Layout> before = new ArrayList<>();
        Layout layout = begin;
        for (Tree tree : change.steps()) {
            try {
                SchemaStep step = new StepReader(layout).read(tree);
                before.add(layout);
                layout = step.after(layout);
                steps.add(step);
            } catch (Misread e) {
                throw new FaultyChange(change.name(), e.place(), e.words());
            } catch (StepMisfit e) {
                throw new FaultyChange(change.name(), tree.place(), String.valueOf(e.getMessage()));
            }
        }
        return new Played(change, steps, before, layout);
    }

    Layout afterStep(int number) {
        return number + 1 < before.size() ? before.get(number + 1) : after;
    }

    /** What the steps speak of: entities, parts, pivots and what is in them. */
    List<String> touched() {
        List<String> touched = new ArrayList<>();
        for (int i = 0; i < steps.size(); i++) {
            Layout then = before.get(i);
            Layout now = afterStep(i);
            for (Sheet sheet : now.sheets().values()) {
                Sheet old = then.sheets().get(sheet.name());
                if (old == null) {
                    touched.add(sheet.name());
                } else if (!old.equals(sheet)) {
                    touched.addAll(differing(old, sheet));
                }
            }
            then.sheets().keySet().stream()
                    .filter(name -> !now.sheets().containsKey(name))
                    .forEach(touched::add);
        }
        return touched.stream().distinct().toList();
    }

    private static List<String> differing(Sheet old, Sheet sheet) {
        List<String> touched = new ArrayList<>();
        for (Field field : sheet.fields()) {
            if (!old.fields().contains(field)) {
                touched.add(sheet.name() + "." + field.name());
            }
        }
        for (Field field : old.fields()) {
            if (!sheet.fields().contains(field)) {
                touched.add(sheet.name() + "." + field.name());
            }
        }
        sheet.uniques().stream()
                .filter(one -> !old.uniques().contains(one))
                .forEach(one -> one.fields().forEach(field -> touched.add(sheet.name() + "." + field)));
        sheet.checks().stream()
                .filter(one -> !old.checks().contains(one))
                .forEach(one ->
                        Sheet.fieldsOf(one.condition()).forEach(field -> touched.add(sheet.name() + "." + field)));
        return touched.isEmpty() ? List.of(sheet.name()) : touched;
    }
}
