package io.bathra.sql;

import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * The rows that a question finds, for statements that change them or what leads to them.
 *
 * @param table their table, with its alias
 * @param alias what the table goes by
 * @param joins other tables, behind their own
 * @param where what is asked of them; may be empty
 * @param lists what is asked of them beside that: to be on lists
 * @param keys the columns of their key
 * @param params what is bound for {@code where}, in order
 * @param reads the entities whose tables are read
 */
public record FoundRows(
        String table,
        String alias,
        String joins,
        String where,
        List<Listed> lists,
        List<String> keys,
        List<SqlText.Param> params,
        Set<ModelEntity<?>> reads) {
    /** How the columns of a list are called. */
    private static final String COLUMN = "k";

    /**
     * Rows that are on a list, which is made without looking at them, so that the database may begin there.
     *
     * @param columns the columns that are on the list together
     * @param list what selects it, for a condition; its columns are named {@code k0} and so on
     * @param repeats whether a row may be on it more than once, which is all the same to a condition
     */
    record Listed(List<String> columns, SqlText list, boolean repeats) {
        /** The list for a join, with each row once. */
        SqlText onceEach() {
            return repeats ? new SqlText("select distinct * from (" + list.sql() + ") once_each", list.params()) : list;
        }

        String condition() {
            String tuple = String.join(", ", columns);
            return (columns.size() == 1 ? tuple : "(" + tuple + ")") + " in (" + list.sql() + ")";
        }

        /** The same as a condition of a join with the list. */
        String on(String alias) {
            return IntStream.range(0, columns.size())
                    .mapToObj(i -> columns.get(i) + " = " + alias + "." + COLUMN + i)
                    .collect(Collectors.joining(" and "));
        }

        private Listed with(List<?> values) {
            return new Listed(columns, list.filled(values), repeats);
        }
    }

    /** Rows of a table of which a condition of their own is asked. */
    static FoundRows own(
            Dialect dialect, ModelEntity<?> entity, String alias, String where, List<SqlText.Param> params) {
        return new FoundRows(
                dialect.qualified(entity.table()) + " as " + alias,
                alias,
                "",
                where,
                List.of(),
                keys(dialect, entity, alias),
                params,
                Set.of(entity));
    }

    static List<String> keys(Dialect dialect, ModelEntity<?> entity, String alias) {
        return entity.keyColumns().stream()
                .map(column -> alias + "." + dialect.quote(column.name()))
                .toList();
    }

    /** Columns of a select as a list has them. */
    static String named(List<String> columns) {
        return IntStream.range(0, columns.size())
                .mapToObj(i -> columns.get(i) + " as " + COLUMN + i)
                .collect(Collectors.joining(", "));
    }

    /** The rows that lead to these by a link. */
    FoundRows leading(Dialect dialect, LinkAttribute link, String below) {
        List<String> on = new ArrayList<>();
        for (int i = 0; i < keys.size(); i++) {
            on.add(below + "." + dialect.quote(link.columns().get(i).name()) + " = " + keys.get(i));
        }
        return new FoundRows(
                dialect.qualified(link.entity().table()) + " as " + below,
                below,
                " join " + table + " on " + String.join(" and ", on) + joins,
                where,
                lists,
                keys(dialect, link.entity(), below),
                params,
                reads);
    }

    /** The same with the values of the question in its holes. */
    FoundRows with(List<?> values) {
        return new FoundRows(
                table,
                alias,
                joins,
                where,
                lists.stream().map(list -> list.with(values)).toList(),
                keys,
                new SqlText("", params).filled(values).params(),
                reads);
    }

    /** Whether nothing but the rows themselves is looked at. */
    boolean areOwn() {
        return joins.isEmpty() && lists.isEmpty();
    }

    /** What is asked of the rows, as a clause; nothing where that is nothing. */
    String clause() {
        return where.isEmpty() ? "" : " where " + where;
    }

    /** The same without the list that stands first, of which other use is made. */
    FoundRows withoutFirstList() {
        return new FoundRows(table, alias, joins, where, lists.subList(1, lists.size()), keys, params, reads);
    }

    /** All conditions together, those of lists among them; empty for none. */
    SqlText all() {
        String conditions = Stream.concat(
                        where.isEmpty() ? Stream.of() : Stream.of(where),
                        lists.stream().map(Listed::condition))
                .collect(Collectors.joining(" and "));
        List<SqlText.Param> all = new ArrayList<>(params);
        lists.forEach(list -> all.addAll(list.list().params()));
        return new SqlText(conditions, all);
    }

    /** Selects their keys. */
    SqlText list() {
        SqlText all = all();
        return new SqlText(
                "select " + named(keys) + " from " + table + joins + (all.sql().isEmpty() ? "" : " where " + all.sql()),
                all.params());
    }

    /** That columns of another row hold the key of such a row. */
    Listed among(List<String> columns) {
        return new Listed(columns, list(), false);
    }
}
