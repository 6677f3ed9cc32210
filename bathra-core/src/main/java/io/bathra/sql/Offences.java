package io.bathra.sql;

import io.bathra.history.FieldStep;
import io.bathra.history.RuleStep;
import io.bathra.history.SchemaStep;
import io.bathra.history.SheetStep;
import io.bathra.schema.Check;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Finds the rows on which a step would fail, or which it would change unasked. */
final class Offences extends DialectPart {
    private static final String FIRST = " limit 10";

    private final Layout before;

    Offences(Dialect dialect, Layout before) {
        super(dialect);
        this.before = before;
    }

    List<Offence> of(SchemaStep step) {
        if (step instanceof RuleStep.AddUnique add) {
            return List.of(twice(sheet(add.sheet()), add.unique().fields()));
        } else if (step instanceof SheetStep.ChangeKey change
                && !change.fields().equals(change.newFields())) {
            Sheet sheet = sheet(change.sheet());
            List<Offence> all = new ArrayList<>(List.of(twice(sheet, change.newFields())));
            change.newFields().forEach(field -> all.add(missing(sheet, field)));
            return all;
        } else if (step instanceof RuleStep.AddCheck add) {
            return List.of(refused(sheet(add.sheet()), add));
        } else if (step instanceof FieldStep.Change change) {
            return of(change);
        } else if (step instanceof FieldStep.Add add
                && add.field().required()
                && add.fill() == null
                && !isMade(add.field())) {
            Sheet sheet = sheet(add.sheet());
            return List.of(offence(
                    sheet, "rows that would have nothing in " + add.field().name() + ", give it a fill", "1 = 1"));
        }
        return List.of();
    }

    private static boolean isMade(Field field) {
        return field instanceof Field.OfColumn column && (column.byDefault() != null || column.computed() != null);
    }

    private Sheet sheet(String name) {
        return before.sheet(name).orElseThrow();
    }

    private List<Offence> of(FieldStep.Change change) {
        Sheet sheet = sheet(change.sheet());
        List<Offence> all = new ArrayList<>();
        if (change.newField().required() && !change.field().required() && change.fill() == null) {
            all.add(missing(sheet, change.field().name()));
        }
        if (change.field() instanceof Field.OfColumn old && change.newField() instanceof Field.OfColumn now) {
            new Unfit(dialect, quote(old.column()), old.type(), now.type())
                    .conditions()
                    .forEach((what, condition) ->
                            all.add(offence(sheet, "values of " + old.name() + " " + what, condition)));
        }
        return all;
    }

    private Offence missing(Sheet sheet, String field) {
        return offence(
                sheet,
                "rows with nothing in " + field,
                quote(sheet.columns(List.of(field)).get(0)) + " is null");
    }

    private Offence refused(Sheet sheet, RuleStep.AddCheck add) {
        Check check = new Check("", add.check().condition(), before.columnsByField(sheet.table()));
        return offence(
                sheet,
                "rows that do not keep to " + add.check().condition(),
                "not (" + ConditionWriter.withLiterals(dialect, check) + ")");
    }

    private Offence offence(Sheet sheet, String what, String condition) {
        String from = " from " + qualified(sheet.table()) + " where " + condition;
        return new Offence(
                what,
                "select count(*)" + from,
                "select " + names(sheet.keyColumns()) + from + " order by " + names(sheet.keyColumns()) + FIRST,
                sheet.table(),
                sheet.keyColumns());
    }

    private Offence twice(Sheet sheet, List<String> fields) {
        List<String> columns = sheet.columns(fields);
        String there =
                columns.stream().map(column -> quote(column) + " is not null").collect(Collectors.joining(" and "));
        String groups = " from " + qualified(sheet.table()) + " where " + there + " group by " + names(columns)
                + " having count(*) > 1";
        return new Offence(
                "values of " + String.join(" and ", fields) + " that are there more than once",
                "select count(*) from (select 1 as one" + groups + ") g",
                "select " + names(columns) + ", count(*)" + groups + " order by " + names(columns) + FIRST,
                sheet.table(),
                columns);
    }
}
