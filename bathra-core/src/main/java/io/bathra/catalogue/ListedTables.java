package io.bathra.catalogue;

import io.bathra.attr.DeleteRule;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Index;
import io.bathra.schema.LiveCheck;
import io.bathra.schema.LiveColumn;
import io.bathra.schema.LiveTable;
import io.bathra.schema.UniqueConstraint;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Tables, put together from the rows of a catalogue; rows of one constraint come in the order of its columns. */
final class ListedTables {
    private final Map<String, Parts> tables = new LinkedHashMap<>();

    /** Takes the columns of an index or a unique constraint; null among them stands for anything but a plain column. */
    private record Columns(List<@Nullable String> names, boolean deferrable) {
        boolean plain() {
            return names.stream().allMatch(Objects::nonNull);
        }

        boolean isOf(UniqueConstraint other) {
            return deferrable == other.deferrable() && names.equals(other.columns());
        }

        /** As far as they are plain columns. */
        List<String> first() {
            List<String> first = new ArrayList<>();
            for (String name : names) {
                if (name == null) {
                    break;
                }
                first.add(name);
            }
            return first;
        }
    }

    private record Reference(
            List<String> columns, String target, List<String> targets, DeleteRule rule, boolean deferrable) {}

    private static final class Parts {
        private final List<LiveColumn> columns = new ArrayList<>();
        private final List<String> key = new ArrayList<>();
        private final Map<String, Columns> uniques = new LinkedHashMap<>();
        private final Map<String, Columns> indexes = new LinkedHashMap<>();
        private final Map<String, Reference> references = new LinkedHashMap<>();
        private final List<LiveCheck> checks = new ArrayList<>();
    }

    /** Columns come first: a table of which none was listed has been made since. */
    void column(String table, LiveColumn column) {
        tables.computeIfAbsent(table, t -> new Parts()).columns.add(column);
    }

    private Parts parts(String table) {
        return tables.getOrDefault(table, new Parts());
    }

    void key(String table, String column) {
        parts(table).key.add(column);
    }

    void unique(String table, String name, @Nullable String column, boolean deferrable) {
        parts(table)
                .uniques
                .computeIfAbsent(name, n -> new Columns(new ArrayList<>(), deferrable))
                .names()
                .add(column);
    }

    void index(String table, String name, @Nullable String column) {
        parts(table)
                .indexes
                .computeIfAbsent(name, n -> new Columns(new ArrayList<>(), false))
                .names()
                .add(column);
    }

    void foreignKey(
            String table,
            String name,
            String column,
            String target,
            @Nullable String targetColumn,
            DeleteRule rule,
            boolean deferrable) {
        Reference reference = parts(table)
                .references
                .computeIfAbsent(
                        name, n -> new Reference(new ArrayList<>(), target, new ArrayList<>(), rule, deferrable));
        reference.columns().add(column);
        if (targetColumn != null) {
            reference.targets().add(targetColumn);
        }
    }

    void check(String table, String name, String condition) {
        parts(table).checks.add(new LiveCheck(name, condition));
    }

    /** The tables, by their names. */
    Map<String, LiveTable> all() {
        Map<String, LiveTable> all = new LinkedHashMap<>();
        tables.forEach((name, parts) -> all.put(name, table(name, parts)));
        return all;
    }

    private LiveTable table(String name, Parts parts) {
        List<UniqueConstraint> uniques = new ArrayList<>();
        parts.uniques.forEach((unique, columns) -> {
            if (columns.plain() && uniques.stream().noneMatch(columns::isOf)) { // a constraint has an index as well
                uniques.add(new UniqueConstraint(unique, columns.first(), columns.deferrable()));
            }
        });
        List<Index> indexes = new ArrayList<>();
        parts.indexes.forEach((index, columns) -> indexes.add(new Index(index, columns.first())));
        List<ForeignKey> keys = new ArrayList<>();
        parts.references.forEach((key, reference) -> keys.add(new ForeignKey(
                key,
                reference.columns(),
                reference.target(),
                reference.targets().isEmpty() ? keyOf(reference.target()) : reference.targets(),
                reference.rule(),
                reference.deferrable())));
        return new LiveTable(name, parts.columns, parts.key, uniques, indexes, keys, parts.checks);
    }

    private List<String> keyOf(String table) {
        Parts parts = tables.get(table);
        return parts == null ? List.of() : parts.key;
    }
}
