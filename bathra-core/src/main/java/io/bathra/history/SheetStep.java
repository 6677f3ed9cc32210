package io.bathra.history;

import io.bathra.mapping.KeySource;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** A step that concerns a whole sheet, or the table of the commit tokens. */
public sealed interface SheetStep extends SchemaStep {
    /** An entity, parts or a pivot is made, with all that belongs to it. */
    record Create(Sheet sheet) implements SheetStep {
        @Override
        public Layout after(Layout before) {
            Look.sheetIsNew(before, sheet.name());
            Look.tableIsNew(before, sheet.table());
            sheet.fields().forEach(field -> Look.leads(before, sheet, field));
            return before.with(sheet);
        }

        @Override
        public String title() {
            return "create " + Look.words(sheet.kind()) + " " + sheet.name();
        }
    }

    /** It goes, with all rows. */
    record Drop(Sheet.Kind kind, String name) implements SheetStep {
        @Override
        public Layout after(Layout before) {
            Look.sheet(before, name);
            for (Sheet other : before.sheets().values()) {
                for (Field field : other.fields()) {
                    if (!other.name().equals(name)
                            && field instanceof Field.OfLink link
                            && link.to().equals(name)) {
                        throw new StepMisfit(other.name() + "." + link.name() + " leads to " + name
                                + "; drop the one before the other");
                    }
                }
            }
            return before.without(name);
        }

        @Override
        public String title() {
            return "drop " + Look.words(kind) + " " + name;
        }

        @Override
        public boolean isLosing() {
            return true;
        }
    }

    /**
     * It gets another name, or only its table does. The parts and pivots of an entity follow, as far as their names
     * were made of its own.
     */
    record Rename(Sheet.Kind kind, String name, String newName, String newTable) implements SheetStep {
        @Override
        public Layout after(Layout before) {
            Sheet sheet = Look.sheet(before, name);
            if (!newName.equals(name)) {
                Look.sheetIsNew(before, newName);
            }
            if (!newTable.equalsIgnoreCase(sheet.table())) {
                Look.tableIsNew(before, newTable);
            }
            Map<String, String> renamed = renamedSheets(before);
            Map<String, Sheet> all = new LinkedHashMap<>();
            for (Sheet one : before.sheets().values()) {
                Sheet now = followed(before, one, renamed);
                all.put(now.name(), now);
            }
            return new Layout(all, before.commitTokens());
        }

        private Sheet followed(Layout before, Sheet one, Map<String, String> renamed) {
            Map<String, String> fields = renamedFields(before, one.name());
            List<Field> now = new ArrayList<>();
            for (Field field : one.fields()) {
                Field next = field;
                if (field instanceof Field.OfLink link && fields.containsKey(field.name())) {
                    String own = Objects.requireNonNull(fields.get(field.name()));
                    next = link.named(own, Convention.renamedColumns(link, own));
                }
                now.add(
                        next instanceof Field.OfLink link && link.to().equals(name)
                                ? Convention.leadingTo(link, newName)
                                : next);
            }
            String table = one.name().equals(name)
                    ? newTable
                    : renamed.containsKey(one.name()) && one.table().equals(Convention.table(one.name()))
                            ? Convention.table(Objects.requireNonNull(renamed.get(one.name())))
                            : one.table();
            Sheet changed = FieldStep.renamedIn(one.withFields(now), fields)
                    .named(renamed.getOrDefault(one.name(), one.name()), table);
            return changed.namedAfter(one);
        }

        @Override
        public Map<String, String> renamedSheets(Layout before) {
            Map<String, String> renamed = new LinkedHashMap<>();
            renamed.put(name, newName);
            for (Sheet one : before.sheets().values()) {
                if (kind == Sheet.Kind.ENTITY && one.name().startsWith(name + ".")) {
                    renamed.put(one.name(), newName + one.name().substring(name.length()));
                }
            }
            return renamed;
        }

        /** In parts and pivots, a link to an entity is named like it. */
        @Override
        public Map<String, String> renamedFields(Layout before, String sheet) {
            Sheet one = Look.sheet(before, sheet);
            String old = Convention.decapitalized(name);
            boolean named = kind == Sheet.Kind.ENTITY
                    && !name.equals(newName)
                    && one.kind() != Sheet.Kind.ENTITY
                    && one.field(old)
                            .filter(field -> field instanceof Field.OfLink link
                                    && link.to().equals(name))
                            .isPresent();
            return named ? Map.of(old, Convention.decapitalized(newName)) : Map.of();
        }

        @Override
        public String title() {
            return "rename " + Look.words(kind) + " " + name + " to " + newName;
        }
    }

    /** The key is made of other fields, or its values come from elsewhere. */
    record ChangeKey(String sheet, List<String> fields, List<String> newFields, KeySource source, KeySource newSource)
            implements SheetStep {
        public ChangeKey {
            fields = List.copyOf(fields);
            newFields = List.copyOf(newFields);
        }

        @Override
        public Layout after(Layout before) {
            Sheet old = Look.sheet(before, sheet);
            List<String> key = old.key().stream().map(Field::name).toList();
            if (!key.equals(fields) || !old.keySource().equals(source)) {
                throw new StepMisfit("the key of " + sheet + " is " + key + " " + Convention.words(old.keySource())
                        + " here, not " + fields + " " + Convention.words(source));
            }
            Sheet changed = old.withKeySource(newSource);
            if (!newFields.equals(fields)) {
                before.sheets()
                        .values()
                        .forEach(other -> other.fields().stream()
                                .filter(field -> field instanceof Field.OfLink link
                                        && link.to().equals(sheet))
                                .forEach(field -> {
                                    throw new StepMisfit(other.name() + "." + field.name() + " leads to " + sheet
                                            + " by its key; drop that link before, and add it again behind");
                                }));
                List<Field> ordered = new ArrayList<>();
                newFields.forEach(name -> ordered.add(Look.field(old, name)));
                old.fields().stream()
                        .filter(field -> !newFields.contains(field.name()))
                        .forEach(ordered::add);
                changed = changed.withFields(ordered, newFields.size()).namedKeyAfter(old);
            }
            return before.replacing(sheet, changed);
        }

        @Override
        public String title() {
            return "change key " + sheet;
        }
    }

    /** The table for commit tokens is made, renamed or dropped. */
    record Tokens(@Nullable String table, @Nullable String newTable) implements SheetStep {
        @Override
        public Layout after(Layout before) {
            if (!Objects.equals(before.commitTokens(), table)) {
                throw new StepMisfit(
                        before.commitTokens() == null
                                ? "there are no commit tokens here"
                                : "the table for commit tokens is " + before.commitTokens() + " here");
            }
            return before.withCommitTokens(newTable);
        }

        @Override
        public String title() {
            return newTable == null ? "drop commit tokens" : "commit tokens in " + newTable;
        }
    }
}
