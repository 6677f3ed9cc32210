package io.bathra.history;

import io.bathra.question.SearchCondition;
import io.bathra.schema.Field;
import io.bathra.schema.FieldPath;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** A step that concerns an attribute or a link. */
public sealed interface FieldStep extends SchemaStep {
    String sheet();

    /**
     * There is one more.
     *
     * @param fill what rows that are there get; null for nothing
     */
    record Add(String sheet, Field field, @Nullable Fill fill) implements FieldStep {
        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            Look.fieldIsNew(old, field);
            Look.leads(before, old, field);
            List<Field> fields = new ArrayList<>(old.fields());
            fields.add(field);
            return before.replacing(sheet, old.withFields(fields));
        }

        @Override
        public String title() {
            return "add " + word(field) + " " + sheet + "." + field.name();
        }
    }

    /** It goes, with its values. */
    record Drop(String sheet, String name, boolean link) implements FieldStep {
        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            Field field = Look.field(old, name);
            if (old.key().contains(field)) {
                throw new StepMisfit(sheet + "." + name + " belongs to the key; change the key before");
            }
            List<String> users = Stream.of(
                            old.uniques().stream()
                                    .filter(one -> one.fields().contains(name))
                                    .map(Sheet.Unique::name),
                            old.indexes().stream()
                                    .filter(one -> one.fields().contains(name))
                                    .map(Sheet.Listed::name),
                            old.checks().stream()
                                    .filter(one ->
                                            Sheet.fieldsOf(one.condition()).contains(name))
                                    .map(Sheet.Held::name))
                    .flatMap(names -> names)
                    .toList();
            if (!users.isEmpty()) {
                throw new StepMisfit(sheet + "." + name + " is part of " + String.join(", ", users)
                        + "; drop what it is part of before");
            }
            List<Field> fields = new ArrayList<>(old.fields());
            fields.remove(field);
            return before.replacing(sheet, old.withFields(fields));
        }

        @Override
        public String title() {
            return "drop " + (link ? "link " : "attribute ") + sheet + "." + name;
        }

        @Override
        public boolean isLosing() {
            return true;
        }
    }

    /** It gets another name, and its columns do. */
    record Rename(String sheet, String name, String newName, List<String> newColumns) implements FieldStep {
        public Rename {
            newColumns = List.copyOf(newColumns);
        }

        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            Field field = Look.field(old, name);
            if (!name.equals(newName) && old.field(newName).isPresent()) {
                throw new StepMisfit(sheet + " has '" + newName + "' here already");
            }
            Look.columnsAreNew(
                    old,
                    newColumns.stream()
                            .filter(column -> field.columns().stream().noneMatch(column::equalsIgnoreCase))
                            .toList());
            List<Field> fields = new ArrayList<>(old.fields());
            fields.set(fields.indexOf(field), field.named(newName, newColumns));
            Sheet renamed = renamedIn(old.withFields(fields), Map.of(name, newName));
            return before.replacing(sheet, renamed.namedAfter(old));
        }

        @Override
        public Map<String, String> renamedFields(Layout before, String other) {
            return other.equals(sheet) ? Map.of(name, newName) : Map.of();
        }

        @Override
        public String title() {
            return "rename " + sheet + "." + name + " to " + newName;
        }
    }

    /**
     * It keeps other values, or is held to something else. Its name and columns stay.
     *
     * @param fill what rows that have nothing get, where there must be something from now on; null for nothing
     */
    record Change(
            String sheet,
            Field field,
            Field newField,
            @Nullable Fill fill) implements FieldStep {
        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            Field there = Look.field(old, field.name());
            if (!there.equals(field)) {
                throw new StepMisfit(sheet + "." + field.name() + " is other than it is said to be here: it is "
                        + Convention.words(there) + ", not " + Convention.words(field));
            }
            Look.leads(before, old, newField);
            List<Field> fields = new ArrayList<>(old.fields());
            fields.set(fields.indexOf(there), newField);
            return before.replacing(sheet, old.withFields(fields));
        }

        @Override
        public String title() {
            return "change " + word(field) + " " + sheet + "." + field.name();
        }
    }

    static String word(Field field) {
        return field instanceof Field.OfLink ? "link" : "attribute";
    }

    /** A sheet whose rules speak of fields by their new names. */
    static Sheet renamedIn(Sheet sheet, Map<String, String> names) {
        if (names.isEmpty()) {
            return sheet;
        }
        return sheet.withUniques(sheet.uniques().stream()
                        .map(one -> new Sheet.Unique(one.name(), renamed(one.fields(), names), one.deferrable()))
                        .toList())
                .withIndexes(sheet.indexes().stream()
                        .map(one -> new Sheet.Listed(one.name(), renamed(one.fields(), names)))
                        .toList())
                .withChecks(sheet.checks().stream()
                        .map(one -> new Sheet.Held(one.name(), renamed(one.condition(), names)))
                        .toList());
    }

    private static List<String> renamed(List<String> fields, Map<String, String> names) {
        return fields.stream().map(one -> names.getOrDefault(one, one)).toList();
    }

    private static SearchCondition renamed(SearchCondition condition, Map<String, String> names) {
        return new Rewriting(path -> FieldPath.of(names.getOrDefault(FieldPath.name(path), FieldPath.name(path))))
                .of(condition);
    }
}
