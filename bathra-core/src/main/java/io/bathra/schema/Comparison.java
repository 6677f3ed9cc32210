package io.bathra.schema;

import io.bathra.mapping.DatabaseMade;
import io.bathra.model.Difference;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.BiPredicate;

/** Compares the tables that a model asks for with those that a database has. Constraints are told by their columns. */
public final class Comparison {
    /** How one database spells names and types. */
    public interface Spelling {
        /** Whether the database means the declared name by the one that it lists. */
        boolean sameName(String declared, String listed);

        /** What is wrong with a column's type, in words; empty when nothing is. */
        Optional<String> typeMismatch(Table table, Column declared, LiveColumn listed);

        /** The indexes that are made for a table, besides those of its constraints. */
        List<Index> indexes(Table table);
    }

    private final Spelling spelling;
    private final List<Difference> differences = new ArrayList<>();

    private Comparison(Spelling spelling) {
        this.spelling = spelling;
    }

    /** All differences, table by table. */
    public static List<Difference> of(List<Table> declared, List<LiveTable> live, Spelling spelling) {
        Comparison comparison = new Comparison(spelling);
        for (Table table : declared) {
            Optional<LiveTable> found = live.stream()
                    .filter(one -> spelling.sameName(table.name(), one.name()))
                    .findFirst();
            if (found.isPresent()) {
                comparison.compare(table, found.get());
            } else {
                comparison.lacks(table.name(), "there is no such table");
            }
        }
        return List.copyOf(comparison.differences);
    }

    private void compare(Table table, LiveTable live) {
        for (Column column : table.columns()) {
            live.columns().stream()
                    .filter(one -> spelling.sameName(column.name(), one.name()))
                    .findFirst()
                    .ifPresentOrElse(
                            one -> compare(table, column, one),
                            () -> lacks(table.name() + "." + column.name(), "there is no such column"));
        }
        for (LiveColumn column : live.columns()) {
            if (table.columns().stream().noneMatch(one -> spelling.sameName(one.name(), column.name()))) {
                differences.add(new Difference(
                        table.name() + "." + column.name(),
                        "the model knows no such column" + (column.required() ? ", and it must have a value" : ""),
                        false));
            }
        }
        if (!same(table.keyColumns(), live.keyColumns())) {
            lacks(table.name(), "its primary key is " + live.keyColumns() + ", but should be " + table.keyColumns());
        }
        for (UniqueConstraint unique : table.uniques()) {
            if (none(live.uniques(), unique.columns(), this::sameSet)) {
                lacks(table.name(), "there is no unique constraint on " + unique.columns());
            }
        }
        for (ForeignKey key : table.foreignKeys()) {
            Optional<ForeignKey> there = live.foreignKeys().stream()
                    .filter(one -> same(key.columns(), one.columns())
                            && spelling.sameName(key.targetTable(), one.targetTable())
                            && same(key.targetColumns(), one.targetColumns()))
                    .findFirst();
            if (there.isEmpty()) {
                lacks(
                        table.name(),
                        "there is no foreign key from " + key.columns() + " to " + key.targetTable() + " "
                                + key.targetColumns());
            } else if (there.get().onDelete() != key.onDelete()) {
                lacks(
                        table.name(),
                        "the foreign key from " + key.columns() + " to " + key.targetTable() + " is on delete "
                                + words(there.get()) + ", but should be on delete " + words(key));
            }
        }
        for (Index index : spelling.indexes(table)) {
            if (none(live.indexes(), index.columns(), this::startsWith)) {
                lacks(table.name(), "there is no index on " + index.columns());
            }
        }
    }

    private void compare(Table table, Column column, LiveColumn live) {
        String place = table.name() + "." + column.name();
        spelling.typeMismatch(table, column, live).ifPresent(words -> lacks(place, words));
        if (column.made() instanceof DatabaseMade.Computed) {
            return; // whether it can be empty follows from what it is computed of
        }
        if (column.required() && !live.required()) {
            lacks(place, "it may be empty, but must have a value");
        } else if (!column.required() && live.required()) {
            lacks(place, "it must have a value, but may be empty in the model");
        }
    }

    private static String words(ForeignKey key) {
        return key.onDelete().name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    private static boolean none(
            List<List<String>> live, List<String> declared, BiPredicate<List<String>, List<String>> match) {
        return live.stream().noneMatch(one -> match.test(declared, one));
    }

    private boolean same(List<String> declared, List<String> live) {
        return declared.size() == live.size() && startsWith(declared, live);
    }

    private boolean startsWith(List<String> declared, List<String> live) {
        for (int i = 0; i < declared.size(); i++) {
            if (i >= live.size() || !spelling.sameName(declared.get(i), live.get(i))) {
                return false;
            }
        }
        return true;
    }

    private boolean sameSet(List<String> declared, List<String> live) {
        return declared.size() == live.size()
                && declared.stream().allMatch(name -> live.stream().anyMatch(one -> spelling.sameName(name, one)));
    }

    private void lacks(String place, String words) {
        differences.add(new Difference(place, words, true));
    }
}
