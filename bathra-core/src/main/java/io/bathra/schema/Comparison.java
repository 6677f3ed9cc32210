package io.bathra.schema;

import io.bathra.mapping.DatabaseMade;
import io.bathra.model.Difference;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Compares the tables that a model asks for with those that a database has. Constraints are told by their columns. */
public final class Comparison {
    /** How one database spells names and types, and what it can do. */
    public interface Spelling {
        /** Whether the database means the declared name by the one that it lists. */
        boolean sameName(String declared, String listed);

        /** What is wrong with a column's type, in words; empty when nothing is. */
        Optional<String> typeMismatch(Table table, Column declared, LiveColumn listed);

        /** What is wrong with the order that a column's texts have, in words; empty when nothing is. */
        Optional<String> collationMismatch(Column declared, LiveColumn listed);

        /** The indexes that are made for a table, besides those of its constraints. */
        List<Index> indexes(Table table);

        /** Whether a unique constraint can wait for the end of a transaction. */
        boolean defersUniques();

        /** Whether a foreign key can wait for the end of a transaction. */
        boolean defersKeys();
    }

    private final Spelling spelling;
    private final ListedNames names;
    private final Findings findings = new Findings();

    private Comparison(Spelling spelling) {
        this.spelling = spelling;
        this.names = new ListedNames(spelling);
    }

    /**
     * All differences, table by table.
     *
     * @param live the tables that are there, by the names that were declared
     * @param twins copies to compare expressions with, by the same names; where there is none, only whether there is an
     *     expression is compared
     */
    public static List<Difference> of(
            List<Table> declared, Map<String, LiveTable> live, Map<String, Twin> twins, Spelling spelling) {
        Comparison comparison = new Comparison(spelling);
        for (Table table : declared) {
            LiveTable found = live.get(table.name());
            if (found == null) {
                comparison.findings.lacking(table.name(), "there is no such table");
            } else {
                comparison.compare(table, found);
                new ExpressionComparison(table, found, spelling, comparison.findings).compare(twins.get(table.name()));
            }
        }
        return comparison.findings.list();
    }

    /** Whether a table has expressions on both sides, whose words can only be compared with those of a copy. */
    public static boolean needsCopy(Table table, LiveTable live, Spelling spelling) {
        return ExpressionComparison.needsCopy(table, live, spelling);
    }

    private void compare(Table table, LiveTable live) {
        for (Column column : table.columns()) {
            names.find(column.name(), live.columns(), LiveColumn::name)
                    .ifPresentOrElse(
                            one -> compare(table, column, one),
                            () -> findings.lacking(place(table, column.name()), "there is no such column"));
        }
        for (LiveColumn column : live.columns()) {
            if (table.columns().stream().noneMatch(one -> spelling.sameName(one.name(), column.name()))) {
                findings.beyond(
                        place(table, column.name()),
                        "the model knows no such column" + (column.required() ? ", and it must have a value" : ""));
            }
        }
        if (!names.same(table.keyColumns(), live.keyColumns())) {
            lacks(table, "its primary key is " + live.keyColumns() + ", but should be " + table.keyColumns());
        }
        compareUniques(table, live);
        compareKeys(table, live);
        for (Index index : spelling.indexes(table)) {
            if (live.indexes().stream().noneMatch(one -> names.startsWith(index.columns(), one.columns()))) {
                lacks(table, "there is no index on " + index.columns());
            }
        }
    }

    private void compareUniques(Table table, LiveTable live) {
        for (UniqueConstraint unique : table.uniques()) {
            List<UniqueConstraint> there = live.uniques().stream()
                    .filter(one -> names.sameSet(unique.columns(), one.columns()))
                    .toList();
            if (there.isEmpty()) {
                lacks(table, "there is no unique constraint on " + unique.columns());
            } else if (spelling.defersUniques()
                    && there.stream().noneMatch(one -> one.deferrable() == unique.deferrable())) {
                lacks(table, "the unique constraint on " + unique.columns() + deferrable(unique.deferrable()));
            }
        }
        for (UniqueConstraint one : live.uniques()) {
            boolean declared = names.sameSet(table.keyColumns(), one.columns())
                    || table.uniques().stream().anyMatch(unique -> names.sameSet(unique.columns(), one.columns()));
            if (!declared && !names.sameSet(live.keyColumns(), one.columns())) {
                findings.beyond(table.name(), "the model knows no unique constraint on " + one.columns());
            }
        }
    }

    private void compareKeys(Table table, LiveTable live) {
        for (ForeignKey key : table.foreignKeys()) {
            Optional<ForeignKey> there =
                    live.foreignKeys().stream().filter(one -> same(key, one)).findFirst();
            if (there.isEmpty()) {
                lacks(
                        table,
                        "there is no foreign key from " + key.columns() + " to " + key.targetTable() + " "
                                + key.targetColumns());
                continue;
            }
            String which = "the foreign key from " + key.columns() + " to " + key.targetTable();
            if (there.get().onDelete() != key.onDelete()) {
                lacks(table, which + " is on delete " + words(there.get()) + ", but should be on delete " + words(key));
            }
            if (spelling.defersKeys() && there.get().deferrable() != key.deferrable()) {
                lacks(table, which + deferrable(key.deferrable()));
            }
        }
        for (ForeignKey one : live.foreignKeys()) {
            if (table.foreignKeys().stream().noneMatch(key -> same(key, one))) {
                findings.beyond(
                        table.name(),
                        "the model knows no foreign key from " + one.columns() + " to " + one.targetTable() + " "
                                + one.targetColumns());
            }
        }
    }

    private boolean same(ForeignKey declared, ForeignKey listed) {
        return names.same(declared.columns(), listed.columns())
                && spelling.sameName(declared.targetTable(), listed.targetTable())
                && names.same(declared.targetColumns(), listed.targetColumns());
    }

    private void compare(Table table, Column column, LiveColumn live) {
        String place = place(table, column.name());
        Optional<String> type = spelling.typeMismatch(table, column, live);
        type.or(() -> spelling.collationMismatch(column, live)).ifPresent(words -> findings.lacking(place, words));
        if (column.made() instanceof DatabaseMade.Computed) {
            return; // whether it can be empty follows from what it is computed of
        }
        if (column.required() && !live.required()) {
            findings.lacking(place, "it may be empty, but must have a value");
        } else if (!column.required() && live.required()) {
            findings.lacking(place, "it must have a value, but may be empty in the model");
        }
    }

    private static String deferrable(boolean wanted) {
        return wanted ? " is not deferrable, but should be" : " is deferrable, but should not be";
    }

    private static String words(ForeignKey key) {
        return key.onDelete().name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    private void lacks(Table table, String words) {
        findings.lacking(table.name(), words);
    }

    static String place(Table table, String column) {
        return table.name() + "." + column;
    }
}
