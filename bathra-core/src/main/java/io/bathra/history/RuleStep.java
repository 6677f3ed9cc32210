package io.bathra.history;

import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;

/** A step that concerns a unique constraint, an index or a check. */
public sealed interface RuleStep extends SchemaStep {
    String sheet();

    record AddUnique(String sheet, Sheet.Unique unique) implements RuleStep {
        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            unique.fields().forEach(field -> Look.field(old, field));
            return before.replacing(sheet, old.withUniques(added(old, old.uniques(), unique, Sheet.Unique::name)));
        }

        @Override
        public String title() {
            return "add unique " + sheet + "." + unique.fields();
        }
    }

    record DropUnique(String sheet, List<String> fields) implements RuleStep {
        public DropUnique {
            fields = List.copyOf(fields);
        }

        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            return before.replacing(
                    sheet, old.withUniques(without(old, old.uniques(), "unique", fields, Sheet.Unique::fields)));
        }

        @Override
        public String title() {
            return "drop unique " + sheet + "." + fields;
        }
    }

    record AddIndex(String sheet, Sheet.Listed index) implements RuleStep {
        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            index.fields().forEach(field -> Look.field(old, field));
            return before.replacing(sheet, old.withIndexes(added(old, old.indexes(), index, Sheet.Listed::name)));
        }

        @Override
        public String title() {
            return "add index " + sheet + "." + index.fields();
        }
    }

    record DropIndex(String sheet, List<String> fields) implements RuleStep {
        public DropIndex {
            fields = List.copyOf(fields);
        }

        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            return before.replacing(
                    sheet, old.withIndexes(without(old, old.indexes(), "index", fields, Sheet.Listed::fields)));
        }

        @Override
        public String title() {
            return "drop index " + sheet + "." + fields;
        }
    }

    record AddCheck(String sheet, Sheet.Held check) implements RuleStep {
        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            Sheet.fieldsOf(check.condition()).forEach(field -> Look.field(old, field));
            return before.replacing(sheet, old.withChecks(added(old, old.checks(), check, Sheet.Held::name)));
        }

        @Override
        public String title() {
            return "add check " + check.name() + " of " + sheet;
        }
    }

    record DropCheck(String sheet, String name) implements RuleStep {
        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            return before.replacing(sheet, old.withChecks(without(old, old.checks(), "check", name, Sheet.Held::name)));
        }

        @Override
        public String title() {
            return "drop check " + name + " of " + sheet;
        }
    }

    private static <R> List<R> added(Sheet sheet, List<R> rules, R rule, Function<R, String> name) {
        if (rules.stream().anyMatch(one -> name.apply(one).equals(name.apply(rule)))) {
            throw new StepMisfit(sheet.name() + " has '" + name.apply(rule) + "' here already");
        }
        List<R> all = new ArrayList<>(rules);
        all.add(rule);
        return all;
    }

    private static <R, K> List<R> without(Sheet sheet, List<R> rules, String word, K what, Function<R, K> told) {
        List<R> left =
                rules.stream().filter(one -> !told.apply(one).equals(what)).toList();
        if (left.size() == rules.size()) {
            throw new StepMisfit(sheet.name() + " has no " + word + " " + what + " here; it has "
                    + (rules.isEmpty() ? "none" : rules.stream().map(told).toList()));
        }
        return left;
    }
}
