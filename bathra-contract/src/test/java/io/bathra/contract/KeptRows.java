package io.bathra.contract;

import io.bathra.history.FieldStep;
import io.bathra.history.SchemaStep;
import io.bathra.history.SheetStep;
import io.bathra.schema.Column;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.math.BigDecimal;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/** What was in the fields that steps leave there, by the names that the fields have at the end; and what is there now. */
final class KeptRows {
    /** A field that stays: where it was, and where it is. */
    private record Kept(String sheet, String field, String newSheet, String newField) {}

    private final Layout before;
    private final Layout after;
    private final List<Kept> kept = new ArrayList<>();

    KeptRows(Layout before, Layout after, List<SchemaStep> steps) {
        this.before = before;
        this.after = after;
        for (Sheet sheet : before.sheets().values()) {
            for (Field field : sheet.fields()) {
                follow(sheet, field, steps);
            }
        }
    }

    private void follow(Sheet old, Field field, List<SchemaStep> steps) {
        Layout layout = before;
        String sheet = old.name();
        String name = field.name();
        for (SchemaStep step : steps) {
            Layout next = step.after(layout);
            if (step instanceof SheetStep.Drop drop && drop.name().equals(sheet)) {
                return;
            } else if (step instanceof FieldStep.Drop drop
                    && drop.sheet().equals(sheet)
                    && drop.name().equals(name)) {
                return;
            } else if (step instanceof FieldStep.Rename rename
                    && rename.sheet().equals(sheet)
                    && rename.name().equals(name)) {
                name = rename.newName();
            } else if (step instanceof SheetStep.Rename rename) {
                int place = new ArrayList<>(layout.sheets().keySet()).indexOf(sheet);
                int fieldPlace = place(layout.sheet(sheet).orElseThrow(), name);
                sheet = new ArrayList<>(next.sheets().keySet()).get(place);
                name = next.sheet(sheet).orElseThrow().fields().get(fieldPlace).name();
            }
            if (next.sheet(sheet).isEmpty()) {
                return; // gone with its entity
            }
            layout = next;
        }
        kept.add(new Kept(old.name(), field.name(), sheet, name));
    }

    private static int place(Sheet sheet, String field) {
        return sheet.fields().stream().map(Field::name).toList().indexOf(field);
    }

    /** The values before, by sheet, key and field. */
    Map<String, String> before(RandomRows rows) {
        return values(rows, before, true);
    }

    /** The values after. */
    Map<String, String> after(RandomRows rows) {
        return values(rows, after, false);
    }

    private Map<String, String> values(RandomRows rows, Layout layout, boolean old) {
        Map<String, String> values = new TreeMap<>();
        Set<String> sheets = new LinkedHashSet<>();
        kept.forEach(one -> sheets.add(old ? one.sheet() : one.newSheet()));
        for (String name : sheets) {
            Sheet sheet = layout.sheet(name).orElseThrow();
            List<Kept> fields = kept.stream()
                    .filter(one -> (old ? one.sheet() : one.newSheet()).equals(name))
                    .toList();
            Map<String, List<Column>> columns = layout.columnsByField(sheet.table());
            List<String> asked = new ArrayList<>(keyBefore(sheet, fields, old));
            Map<Kept, Integer> places = new LinkedHashMap<>();
            for (Kept one : fields) {
                List<Column> own = columns.get(old ? one.field() : one.newField());
                if (own.stream().noneMatch(RandomRows::isComputed)) {
                    places.put(one, asked.size());
                    own.forEach(column -> asked.add(column.name()));
                }
            }
            int keys = keyBefore(sheet, fields, old).size();
            for (List<Object> row : rows.rows(sheet, asked)) {
                StringBuilder key = new StringBuilder(fields.get(0).newSheet());
                row.subList(0, keys).forEach(value -> key.append(' ').append(canonical(value)));
                places.forEach((one, place) -> values.put(key + " " + one.newField(), canonical(row.get(place))));
            }
        }
        return values;
    }

    /** The columns of what was the key before the steps, as they are called in the layout that is looked at. */
    private List<String> keyBefore(Sheet sheet, List<Kept> fields, boolean old) {
        List<String> key = new ArrayList<>();
        Sheet then = before.sheet(fields.get(0).sheet()).orElseThrow();
        for (Field field : then.key()) {
            fields.stream()
                    .filter(one -> one.field().equals(field.name()))
                    .findFirst()
                    .ifPresent(one -> key.addAll(sheet.columns(List.of(old ? one.field() : one.newField()))));
        }
        return key;
    }

    /** Whatever a value is kept as, it is the same. */
    private static String canonical(Object value) {
        if (value == null) {
            return "nothing";
        } else if (value instanceof byte[] bytes) {
            return HexFormat.of().formatHex(bytes);
        } else if (value instanceof LocalDateTime time
                && time.toLocalDate().atStartOfDay().equals(time)) {
            return time.toLocalDate().toString();
        }
        try {
            return new BigDecimal(value.toString()).stripTrailingZeros().toPlainString();
        } catch (NumberFormatException e) {
            return value.toString();
        }
    }
}
