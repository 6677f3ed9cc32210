package io.bathra.history;

import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** Finds in a layout what a step speaks of, or says what there is in its place. */
final class Look {
    private Look() {}

    static Sheet sheet(Layout layout, String name) {
        return layout.sheet(name)
                .orElseThrow(() -> new StepMisfit("there is no " + kind(name) + " '" + name + "' here"
                        + near(name, layout.sheets().keySet().stream().toList())));
    }

    static Field field(Sheet sheet, String name) {
        return sheet.field(name)
                .orElseThrow(() -> new StepMisfit(sheet.name() + " has no '" + name + "' here"
                        + near(name, sheet.fields().stream().map(Field::name).toList())));
    }

    static void sheetIsNew(Layout layout, String name) {
        layout.sheet(name).ifPresent(sheet -> {
            throw new StepMisfit("there is " + word(sheet.kind()) + " '" + name + "' here already");
        });
    }

    static void tableIsNew(Layout layout, String table) {
        layout.sheets().values().stream()
                .filter(sheet -> sheet.table().equalsIgnoreCase(table))
                .findFirst()
                .ifPresent(sheet -> {
                    throw new StepMisfit("the table '" + table + "' is that of " + sheet.name()
                            + "; drop or rename that first, or give this one another name");
                });
    }

    static void fieldIsNew(Sheet sheet, Field field) {
        if (sheet.field(field.name()).isPresent()) {
            throw new StepMisfit(sheet.name() + " has '" + field.name() + "' here already");
        }
        columnsAreNew(sheet, field.columns());
    }

    static void columnsAreNew(Sheet sheet, List<String> columns) {
        for (Field other : sheet.fields()) {
            for (String column : columns) {
                if (other.columns().stream().anyMatch(column::equalsIgnoreCase)) {
                    throw new StepMisfit("the column '" + column + "' of " + sheet.table() + " is that of '"
                            + other.name() + "'; drop or rename that first, or give this one another name");
                }
            }
        }
    }

    static void leads(Layout layout, Sheet sheet, Field field) {
        if (field instanceof Field.OfLink link && !link.to().equals(sheet.name())) {
            Sheet target = sheet(layout, link.to());
            if (target.keyColumns().size() != link.columns().size()) {
                throw new StepMisfit(
                        sheet.name() + "." + link.name() + " has the columns " + link.columns() + ", but the key of "
                                + target.name() + " has " + target.keyColumns().size());
            }
        }
    }

    static String kind(String name) {
        return name.contains(".") ? "parts or pivot" : "entity";
    }

    static String word(Sheet.Kind kind) {
        return kind == Sheet.Kind.ENTITY ? "an entity" : kind == Sheet.Kind.PARTS ? "parts" : "a pivot";
    }

    private static String near(String name, List<String> all) {
        if (all.isEmpty()) {
            return "; nothing was made before";
        }
        return Nearest.to(name, all)
                .map(one -> "; did you mean '" + one + "'?")
                .orElseGet(() -> "; there is " + all.stream().limit(12).collect(Collectors.joining(", "))
                        + (all.size() > 12 ? ", …" : ""));
    }

    static String words(Object constant) {
        return String.valueOf(constant).toLowerCase(Locale.ROOT).replace('_', ' ');
    }
}
