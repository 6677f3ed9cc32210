package io.bathra.sql;

import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.plan.Chain;
import io.bathra.trace.Operation;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.StringJoiner;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Statements on rows that are concerned when others are removed: those at the ends of chains of links. */
public final class AlongWriter {
    private static final String ROOT = "t";
    private static final String END = "x";

    private final Dialect dialect;
    private final List<SqlText.Param> params = new ArrayList<>();
    private int aliases;

    private AlongWriter(Dialect dialect) {
        this.dialect = dialect;
    }

    /** Which rows are removed. */
    public sealed interface Removed {}

    /** Those with these keys. */
    public record WithKeys(List<?> keys) implements Removed {}

    /** Those that a query finds. */
    public record Found(ModelEntity<?> entity, FoundRows rows) implements Removed {}

    /**
     * What to do with the rows at the end of some chains, all from one root to one end: delete them, or empty the last
     * link.
     */
    public static SqlText write(Dialect dialect, Operation operation, List<Chain> chains, Removed removed) {
        Map<String, String> sets = new LinkedHashMap<>();
        if (operation != Operation.DELETE) {
            chains.get(0).last().columns().forEach(column -> sets.put(dialect.quote(column.name()), "null"));
        }
        return dialect.forms().change(affected(dialect, chains, removed), sets, List.of());
    }

    /** The rows at the end of chains. */
    private static Affected affected(Dialect dialect, List<Chain> chains, Removed removed) {
        ModelEntity<?> end = chains.get(0).end();
        if (chains.size() == 1) {
            List<LinkAttribute> links = chains.get(0).links();
            LinkAttribute last = links.get(links.size() - 1);
            if (links.size() == 1 && removed instanceof WithKeys) {
                return Affected.found(ends(dialect, links, removed));
            }
            FoundRows parents = links.size() == 1
                    ? ((Found) removed).rows()
                    : ends(dialect, links.subList(0, links.size() - 1), removed);
            List<String> columns = last.columns().stream()
                    .map(column -> END + "." + dialect.quote(column.name()))
                    .toList();
            return Affected.listed(dialect.qualified(end.table()) + " as " + END, END, columns, parents.list());
        }
        StringJoiner union = new StringJoiner(" union ");
        List<SqlText.Param> params = new ArrayList<>();
        for (Chain chain : chains) {
            SqlText list = ends(dialect, chain.links(), removed).list();
            union.add(list.sql());
            params.addAll(list.params());
        }
        return Affected.listed(
                dialect.qualified(end.table()) + " as " + END,
                END,
                FoundRows.keys(dialect, end, END),
                new SqlText(union.toString(), params));
    }

    /** The rows at the end of some links. */
    private static FoundRows ends(Dialect dialect, List<LinkAttribute> links, Removed removed) {
        LinkAttribute last = links.get(links.size() - 1);
        String alias = "a" + links.size();
        if (links.size() > 1) {
            return ends(dialect, links.subList(0, links.size() - 1), removed).leading(dialect, last, alias);
        } else if (removed instanceof Found found) {
            return found.rows().leading(dialect, last, alias);
        }
        List<SqlText.Param> params = new ArrayList<>();
        List<String> columns = last.columns().stream()
                .map(column -> alias + "." + dialect.quote(column.name()))
                .toList();
        String where = SelectWriter.oneOf(dialect, columns, last.shape(), ((WithKeys) removed).keys(), params);
        return FoundRows.own(dialect, last.entity(), alias, where, params);
    }

    /** Counts the rows at the end of some chains, all from one root to one end. */
    public static SqlText count(Dialect dialect, List<Chain> chains, Removed removed) {
        AlongWriter writer = new AlongWriter(dialect);
        String where = chains.stream()
                .map(chain -> writer.goesAlong(ROOT + ".", chain, removed, link -> List.of()))
                .collect(Collectors.joining(" or "));
        String table = dialect.qualified(chains.get(0).end().table());
        return new SqlText("select count(*) from " + table + " " + ROOT + " where " + where, writer.params);
    }

    /** Deletes the rows that a query finds. */
    public static SqlText delete(Dialect dialect, Found found) {
        return dialect.forms().delete(Affected.found(found.rows()));
    }

    /**
     * Selects the whole rows at the end of a chain. Where the last link leads to its own table, those further down too,
     * if the database can be trusted with that.
     *
     * @param moved the keys of rows whose link is about to lead elsewhere, so that they stay
     */
    public static SqlText rows(
            Dialect dialect, Chain chain, Removed removed, Function<LinkAttribute, List<Object>> moved) {
        AlongWriter writer = new AlongWriter(dialect);
        SelectWriter rows = new SelectWriter(dialect, chain.end());
        if (chain.last().target() != chain.end() || !dialect.expressions().endsRecursion()) {
            return new SqlText(
                    rows.head() + " where " + writer.goesAlong(ROOT + ".", chain, removed, moved), writer.params);
        }
        List<StoredColumn> key = chain.end().keyColumns();
        String names = key.stream().map(StoredColumn::alias).collect(Collectors.joining(", "));
        String first = "select " + writer.columns("n.", key) + " from "
                + dialect.qualified(chain.end().table()) + " n where " + writer.goesAlong("n.", chain, removed, moved);
        String next = "select " + writer.columns("n.", key) + " from "
                + dialect.qualified(chain.end().table()) + " n join below b on "
                + writer.leads("n.", chain.last(), "b.") + writer.stays("n.", chain.last(), moved);
        return new SqlText(
                "with recursive below(" + names + ") as (" + first + " union " + next + ") " + rows.head()
                        + " join below b on "
                        + key.stream()
                                .map(column -> ROOT + "." + dialect.quote(column.name()) + " = b." + column.alias())
                                .collect(Collectors.joining(" and ")),
                writer.params);
    }

    /** Selects some of the whole rows at the end of a chain. */
    public static SqlText some(Dialect dialect, Chain chain, Removed removed, int most) {
        AlongWriter writer = new AlongWriter(dialect);
        SelectWriter rows = new SelectWriter(dialect, chain.end());
        return new SqlText(
                rows.head() + " where " + writer.goesAlong(ROOT + ".", chain, removed, link -> List.of()) + " order by "
                        + rows.keyOrder() + dialect.expressions().slice(OptionalInt.of(most), 0),
                writer.params);
    }

    /** That a row stands at the end of a chain. */
    private String goesAlong(String prefix, Chain chain, Removed removed, Function<LinkAttribute, List<Object>> moved) {
        return goesAlong(prefix, chain.links(), removed, moved);
    }

    private String goesAlong(
            String prefix, List<LinkAttribute> links, Removed removed, Function<LinkAttribute, List<Object>> moved) {
        LinkAttribute last = links.get(links.size() - 1);
        List<StoredColumn> columns = last.columns();
        String condition;
        if (links.size() > 1) {
            List<LinkAttribute> shorter = links.subList(0, links.size() - 1);
            String alias = "a" + ++aliases;
            FoundRows parents = FoundRows.own(
                    dialect, last.target(), alias, goesAlong(alias + ".", shorter, removed, moved), List.of());
            condition = parents.among(outside(prefix, last)).condition();
        } else if (removed instanceof WithKeys with) {
            condition = SelectWriter.oneOf(
                    dialect,
                    columns.stream().map(column -> name(prefix, column)).toList(),
                    last.shape(),
                    with.keys(),
                    params);
        } else {
            FoundRows rows = ((Found) removed).rows();
            FoundRows.Listed listed = rows.among(outside(prefix, last));
            params.addAll(listed.list().params());
            condition = listed.condition();
        }
        return "(" + condition + stays(prefix, last, moved) + ")";
    }

    /** The columns of a link as a subquery sees them from within. */
    private List<String> outside(String prefix, LinkAttribute link) {
        String table = prefix.isEmpty() ? dialect.qualified(link.entity().table()) + "." : prefix;
        return link.columns().stream().map(column -> name(table, column)).toList();
    }

    /** Leaves out the rows whose link is about to lead elsewhere. */
    private String stays(String prefix, LinkAttribute link, Function<LinkAttribute, List<Object>> moved) {
        List<Object> keys = moved.apply(link);
        ModelEntity<?> entity = link.entity();
        return keys.isEmpty()
                ? ""
                : " and not "
                        + SelectWriter.oneOf(
                                dialect,
                                entity.keyColumns().stream()
                                        .map(column -> name(prefix, column))
                                        .toList(),
                                entity.keyShape(),
                                keys,
                                params);
    }

    private String leads(String prefix, LinkAttribute link, String to) {
        return link.columns().stream()
                .map(column -> name(prefix, column) + " = " + to
                        + link.target().keyColumns().get(column.part()).alias())
                .collect(Collectors.joining(" and "));
    }

    private String columns(String prefix, List<StoredColumn> columns) {
        return columns.stream().map(column -> name(prefix, column)).collect(Collectors.joining(", "));
    }

    private String name(String prefix, StoredColumn column) {
        return prefix + dialect.quote(column.name());
    }
}
