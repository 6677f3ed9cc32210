package io.bathra.sql;

import io.bathra.error.BathraException;
import io.bathra.history.DataStep;
import io.bathra.history.Fill;
import io.bathra.question.Term;
import io.bathra.schema.Column;
import io.bathra.schema.Layout;
import io.bathra.schema.Literal;
import io.bathra.schema.Sheet;
import io.bathra.schema.Table;
import io.bathra.sql.StepSql.Work;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** What is executed for rows that are there: they are filled, and their values move. */
final class RowChanges extends DialectPart {
    /** So many rows are filled at a time. */
    private static final int PORTION = 10_000;

    private final String product;

    /**
     * @param product the word for the product in a file
     */
    RowChanges(Dialect dialect, String product) {
        super(dialect);
        this.product = product;
    }

    /** Rows that have nothing yet get what a term gives. */
    String backfill(DataStep.Backfill step, Term term, Layout layout) {
        String table = layout.sheet(step.sheet()).orElseThrow().table();
        Map<String, List<Column>> fields = layout.columnsByField(table);
        String column =
                quote(Objects.requireNonNull(fields.get(step.field())).get(0).name());
        String value = ConditionWriter.term(dialect, fields, term);
        String open = column + " is null and (" + value + ") is not null";
        String update = "update " + qualified(table) + " set " + column + " = " + value;
        return step.portions() == 0
                ? update + " where " + open
                : dialect.alterations()
                        .some(
                                update,
                                table,
                                layout.sheet(step.sheet()).orElseThrow().keyColumns(),
                                open,
                                step.portions());
    }

    /** Values move between an inlined value and an entity, whose rows have the same keys. */
    void move(Script script, DataStep.Move step, Layout layout) {
        Sheet sheet = layout.sheet(step.sheet()).orElseThrow();
        Sheet target = step.target(layout);
        String owner = qualified(sheet.table());
        String link = quote(sheet.columns(List.of(step.link())).get(0));
        String key = quote(target.keyColumns().get(0));
        List<String> own = new ArrayList<>();
        List<String> other = new ArrayList<>();
        step.fields().forEach((field, far) -> {
            sheet.columns(List.of(field)).forEach(column -> own.add(quote(column)));
            target.columns(List.of(far)).forEach(column -> other.add(quote(column)));
        });
        if (!step.out()) {
            List<String> sets = new ArrayList<>();
            for (int i = 0; i < own.size(); i++) {
                sets.add(own.get(i) + " = (select far." + other.get(i) + " from " + qualified(target.table())
                        + " far where far." + key + " = " + owner + "." + link + ")");
            }
            script.rows(
                    "update " + owner + " set " + String.join(", ", sets) + " where " + link + " is not null",
                    Work.REWRITE);
            return;
        }
        String ownKey = quote(sheet.keyColumns().get(0));
        String there = String.join(" is not null or ", own) + " is not null";
        script.rows(
                "insert into " + qualified(target.table()) + " (" + key + ", " + String.join(", ", other) + ") select "
                        + ownKey
                        + ", " + String.join(", ", own) + " from " + owner + " where " + link + " is null and (" + there
                        + ")",
                Work.REWRITE);
        script.rows(
                "update " + owner + " set " + link + " = " + ownKey + " where " + link + " is null and (" + there + ")",
                Work.REWRITE);
    }

    /** The rows that have nothing in a column yet get something, some at a time, so that nobody waits long for a row. */
    void fill(Script script, TableChange change, Column column) {
        String filling = filling(change, column);
        if (filling == null) {
            return;
        }
        Table table = change.after();
        String name = quote(column.name());
        String update = "update " + qualified(table.name()) + " set " + name + " = " + filling;
        String open = name + " is null and (" + filling + ") is not null";
        script.portions(dialect.alterations().some(update, table.name(), table.keyColumns(), open, PORTION));
        if (column.required()) {
            script.noRows(leftEmpty(table, column, name));
        }
    }

    /** Asks for rows that a fill leaves with nothing. */
    String leftEmpty(Table table, Column column, String value) {
        return "select "
                + textLiteral("rows of " + table.name() + " for which the fill of " + column.name() + " gives nothing")
                + ", " + names(table.keyColumns()) + " from " + qualified(table.name()) + " where (" + value
                + ") is null";
    }

    /** What rows that are there get in a column; null for nothing. */
    @Nullable
    String filling(TableChange change, Column column) {
        Fill fill = change.fills().get(column.name());
        if (fill == null) {
            return null;
        } else if (fill instanceof Fill.OfValue value) {
            return literal(column, value.literal());
        } else if (fill instanceof Fill.OfTerm term) {
            return ConditionWriter.term(dialect, change.fields(), term.term());
        }
        Fill.OfSql sql = (Fill.OfSql) fill;
        return sql.expressions().getOrDefault(product, sql.expressions().get(DataStep.ANY));
    }

    private String literal(Column column, Object literal) {
        try {
            return dialect.expressions().literal(column.type(), Literal.as(column.type(), literal));
        } catch (BathraException e) {
            throw e;
        } catch (RuntimeException e) {
            throw new BathraException("rows cannot be filled with " + literal + ", since " + column.name() + " keeps "
                    + column.type().words() + ": " + e.getMessage());
        }
    }
}
