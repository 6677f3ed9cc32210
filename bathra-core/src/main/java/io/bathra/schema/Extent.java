package io.bathra.schema;

import io.bathra.mapping.DatabaseMade.Computed;
import io.bathra.mapping.DatabaseMade.Default;
import io.bathra.mapping.KeySource;
import java.util.ArrayList;
import java.util.List;

/** How much there is to compare, in words. */
public final class Extent {
    private Extent() {}

    /** What the catalogue alone tells about tables. */
    public static String ofTables(List<Table> tables) {
        List<String> parts = new ArrayList<>();
        parts.add(counted(tables.size(), "table"));
        add(parts, tables.stream().mapToInt(table -> table.columns().size()).sum(), "column");
        add(parts, tables.stream().mapToInt(table -> table.uniques().size()).sum(), "unique constraint");
        add(parts, tables.stream().mapToInt(table -> table.foreignKeys().size()).sum(), "foreign key");
        add(parts, tables.stream().mapToInt(table -> table.indexes().size()).sum(), "index");
        add(parts, tables.stream().mapToInt(table -> table.checks().size()).sum(), "check");
        add(parts, columns(tables, Default.class), "default");
        add(parts, columns(tables, Computed.class), "computed value");
        return String.join(", ", parts);
    }

    /** All of it. */
    public static String of(List<Table> tables) {
        List<String> parts = new ArrayList<>(List.of(ofTables(tables)));
        long generators = tables.stream()
                .filter(table -> table.keySource().isDrawn() && !(table.keySource() instanceof KeySource.TimeOrdered))
                .count();
        add(parts, (int) generators, "generator");
        return String.join(", ", parts);
    }

    private static int columns(List<Table> tables, Class<?> made) {
        return (int) tables.stream()
                .flatMap(table -> table.columns().stream())
                .filter(column -> made.isInstance(column.made()))
                .count();
    }

    private static void add(List<String> parts, int count, String what) {
        if (count > 0) {
            parts.add(counted(count, what));
        }
    }

    private static String counted(int count, String what) {
        return count == 1 ? "1 " + what : count + " " + what + (what.endsWith("x") ? "es" : "s");
    }
}
