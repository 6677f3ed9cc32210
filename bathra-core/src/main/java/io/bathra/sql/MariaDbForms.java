package io.bathra.sql;

import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.sql.WriteForm.Binding;
import io.bathra.sql.WriteForm.Present;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** Forms of writing of MariaDB. */
final class MariaDbForms extends Forms {
    /** Up to here, one statement costs the server no more than a batch, and is one part of a trip. */
    private static final int INSERT_MULTI_ROW_TO = 16;

    /** Below dialect, a batch costs less than a statement of its own shape. */
    private static final int UPDATE_SET_WISE_FROM = 10;

    private static final int DELETE_SET_WISE_FROM = 3;

    /** The fastest size of a derived table of {@code UNION ALL}. */
    private static final int UPDATE_ROWS = 500;

    private static final int DELETE_ROWS = 1000;

    /**
     * Up to here rows are found by a join that begins with the keys. Left to choose, the server reads a small table from one
     * end to the other, and waits for whoever has a row in it; beyond, a list of keys takes two thirds of the time.
     */
    private static final int DELETE_BY_JOIN_TO = 100;

    /** What draws from a sequence, in the words of MariaDB, of Oracle and of the standard. */
    private static final Pattern DRAWS =
            Pattern.compile("\\bnextval\\b|\\bnext\\s+value\\s+for\\b", Pattern.CASE_INSENSITIVE);

    MariaDbForms(Dialect dialect) {
        super(dialect);
    }

    /**
     * The driver sends a batch of inserts in bulk. Servers of version 10.11 have crashed in a default that draws from a
     * sequence then, where rows had keys that were there already, so such a table gets several rows a statement.
     */
    @Override
    WriteForm insert(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        if (rows <= INSERT_MULTI_ROW_TO || drawsByDefault(entity, columns)) {
            return super.insert(entity, columns, rows);
        }
        return batched(
                insertHead(entity, columns) + " values (" + Dialect.placeholders(columns.size()) + ")",
                Parameter.of(columns));
    }

    /** Whether a column that is left out has a default that draws from a sequence. */
    private static boolean drawsByDefault(ModelEntity<?> entity, List<StoredColumn> columns) {
        boolean ownKey =
                entity.kind() != ModelEntity.Kind.ENTITY || entity.keySource().equals(KeySource.GENERATED);
        if (ownKey && !columns.containsAll(entity.keyColumns())) {
            return true;
        }
        for (StoredAttribute attribute : entity.stored()) {
            boolean draws = attribute.databaseMade() instanceof DatabaseMade.Default made
                    && DRAWS.matcher(made.sql()).find();
            if (draws && !columns.containsAll(attribute.columns())) {
                return true;
            }
        }
        return false;
    }

    /**
     * A subquery in the insert would lock the gaps that others insert into. What ON DUPLICATE KEY swallows is any
     * unique constraint, so it stands only where the key is the only one.
     */
    @Override
    WriteForm insertMissing(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        String head = insertHead(entity, columns) + " values ";
        String row = "(" + Dialect.placeholders(columns.size()) + ")";
        String first = quote(entity.keyColumns().get(0).name());
        String tail = entity.uniqueKeys().size() == 1 ? " on duplicate key update " + first + " = " + first : "";
        return new WriteForm(
                Binding.MULTI_ROW,
                mostRows(columns),
                Parameter.of(columns),
                n -> head + String.join(", ", Collections.nCopies(n, row)) + tail,
                Present.LOOKED_UP);
    }

    @Override
    WriteForm update(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        if (rows < UPDATE_SET_WISE_FROM) {
            return super.update(entity, columns, rows);
        }
        List<Parameter> parameters = new ArrayList<>(match(entity));
        parameters.addAll(Parameter.of(columns));
        String first = parameters.stream().map(column -> "? " + column.alias()).collect(Collectors.joining(", "));
        String next = " union all select " + Dialect.placeholders(parameters.size());
        String head = "update (select " + first;
        String tail = ") s straight_join " + qualified(entity.table()) + " t on " + pairs(match(entity), " and ")
                + " set " + pairs(Parameter.of(columns), ", ");
        return new WriteForm(Binding.MULTI_ROW, UPDATE_ROWS, parameters, n -> head + next.repeat(n - 1) + tail);
    }

    /**
     * In a change, a subquery is asked for each row of the table, all of which are locked; a join begins anywhere. Only
     * what is called a join has an alias when it is deleted.
     */
    @Override
    SqlText change(Affected rows, Map<String, String> sets, List<SqlText.Param> values) {
        if (rows.areOwn() && !sets.isEmpty()) {
            return super.change(rows, sets, values);
        }
        FoundRows found = rows.found();
        StringBuilder tables = new StringBuilder(rows.table());
        List<SqlText.Param> params = new ArrayList<>();
        List<FoundRows.Listed> lists = found == null ? List.of(rows.listed()) : found.lists();
        for (int i = 0; i < lists.size(); i++) {
            String alias = "s" + (i + 1);
            SqlText list = lists.get(i).onceEach();
            tables.append(" join (")
                    .append(list.sql())
                    .append(") ")
                    .append(alias)
                    .append(" on ")
                    .append(lists.get(i).on(alias));
            params.addAll(list.params());
        }
        tables.append(found == null ? "" : found.joins());
        params.addAll(values);
        if (found != null) {
            params.addAll(found.params());
        }
        String clause = found == null ? "" : found.clause();
        return new SqlText(
                sets.isEmpty()
                        ? "delete " + rows.alias() + " from " + tables + clause
                        : "update " + tables + " set " + assignments(rows.alias() + ".", sets) + clause,
                params);
    }

    private String pairs(List<Parameter> parameters, String between) {
        return parameters.stream()
                .map(parameter -> "t." + quote(parameter.column().name()) + " = s." + parameter.alias())
                .collect(Collectors.joining(between));
    }

    @Override
    public String delete(String table, String column, int rows) {
        return "delete t from (select ? k" + " union all select ?".repeat(rows - 1) + ") s straight_join " + table
                + " t on t." + column + " = s.k";
    }

    /** Rows of a table that links to itself go one by one, children first: a list would be deleted in any order. */
    @Override
    WriteForm delete(ModelEntity<?> entity, int rows) {
        boolean linksToItself = entity.links().stream().anyMatch(link -> link.target() == entity);
        if (rows < DELETE_SET_WISE_FROM || linksToItself) {
            return super.delete(entity, rows);
        }
        List<Parameter> key = match(entity);
        if (rows <= DELETE_BY_JOIN_TO) {
            String first = key.stream().map(column -> "? " + column.alias()).collect(Collectors.joining(", "));
            String next = " union all select " + Dialect.placeholders(key.size());
            String list = "delete t from (select " + first;
            String tail = ") s straight_join " + qualified(entity.table()) + " t on " + pairs(key, " and ");
            return new WriteForm(Binding.MULTI_ROW, DELETE_BY_JOIN_TO, key, n -> list + next.repeat(n - 1) + tail);
        }
        String head = "delete from " + qualified(entity.table()) + " where " + columnList(key) + " in (";
        String row = key.size() == 1 ? "?" : "(" + Dialect.placeholders(key.size()) + ")";
        return new WriteForm(
                Binding.MULTI_ROW, DELETE_ROWS, key, n -> head + String.join(", ", Collections.nCopies(n, row)) + ")");
    }
}
