package io.bathra.sql;

import io.bathra.history.FieldStep;
import io.bathra.history.Fill;
import io.bathra.history.SchemaStep;
import io.bathra.history.SheetStep;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import io.bathra.schema.Table;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Which tables a step makes, changes and drops. */
record StepTables(List<Table> made, List<TableChange> changed, List<Table> gone) {
    static StepTables of(SchemaStep step, Layout before, Layout after) {
        Map<String, Table> old = byName(before.tables());
        Map<String, Table> now = byName(after.tables());
        Map<String, String> tables = new LinkedHashMap<>(); // those that stay, by their names before
        Map<String, Map<String, String>> columns = new LinkedHashMap<>();
        Map<String, String> renamed = step.renamedSheets(before);
        for (Sheet sheet : before.sheets().values()) {
            Sheet next = after.sheets().get(renamed.getOrDefault(sheet.name(), sheet.name()));
            if (next != null) {
                tables.put(sheet.table(), next.table());
                columns.put(sheet.table(), columns(sheet, next, step.renamedFields(before, sheet.name())));
            }
        }
        for (String table : old.keySet()) { // those that stand behind no sheet
            if (now.containsKey(table) && !columns.containsKey(table)) {
                own(tables, columns, old, table, table);
            }
        }
        if (step instanceof SheetStep.Tokens tokens && tokens.table() != null && tokens.newTable() != null) {
            own(tables, columns, old, tokens.table(), tokens.newTable());
        }
        List<TableChange> changed = new ArrayList<>();
        tables.forEach((name, next) -> {
            TableChange change = new TableChange(
                    get(old, name),
                    get(now, next),
                    get(columns, name),
                    tables,
                    fills(step, after, next),
                    after.columnsByField(next));
            if (!change.isNothing()) {
                changed.add(change);
            }
        });
        return new StepTables(
                after.tables().stream()
                        .filter(one -> !tables.containsValue(one.name()))
                        .toList(),
                changed,
                before.tables().stream()
                        .filter(one -> !tables.containsKey(one.name()))
                        .toList());
    }

    private static void own(
            Map<String, String> tables,
            Map<String, Map<String, String>> columns,
            Map<String, Table> old,
            String name,
            String next) {
        Map<String, String> same = new LinkedHashMap<>();
        get(old, name).columns().forEach(column -> same.put(column.name(), column.name()));
        tables.put(name, next);
        columns.put(name, same);
    }

    /** The columns that stay, field by field. */
    private static Map<String, String> columns(Sheet sheet, Sheet next, Map<String, String> renamed) {
        Map<String, String> columns = new LinkedHashMap<>();
        for (Field field : sheet.fields()) {
            next.field(renamed.getOrDefault(field.name(), field.name())).ifPresent(one -> {
                for (int i = 0;
                        i < Math.min(field.columns().size(), one.columns().size());
                        i++) {
                    columns.put(field.columns().get(i), one.columns().get(i));
                }
            });
        }
        return columns;
    }

    private static Map<String, Fill> fills(SchemaStep step, Layout after, String table) {
        @Nullable
        Fill fill = step instanceof FieldStep.Add add
                ? add.fill()
                : step instanceof FieldStep.Change change ? change.fill() : null;
        Field field = step instanceof FieldStep.Add add
                ? add.field()
                : step instanceof FieldStep.Change change ? change.newField() : null;
        boolean here = step instanceof FieldStep one
                && after.sheet(one.sheet())
                        .filter(sheet -> sheet.table().equals(table))
                        .isPresent();
        return here && fill != null && field != null ? Map.of(field.columns().get(0), fill) : Map.of();
    }

    private static Map<String, Table> byName(List<Table> tables) {
        Map<String, Table> all = new LinkedHashMap<>();
        tables.forEach(table -> all.put(table.name(), table));
        return all;
    }

    private static <V> V get(Map<String, V> map, String key) {
        V value = map.get(key);
        if (value == null) {
            throw new IllegalStateException("no table " + key);
        }
        return value;
    }
}
