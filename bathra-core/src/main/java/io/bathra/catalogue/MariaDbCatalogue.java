package io.bathra.catalogue;

import io.bathra.attr.DeleteRule;
import io.bathra.schema.LiveCheck;
import io.bathra.schema.LiveColumn;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Table;
import io.bathra.schema.Twin;
import io.bathra.sql.DefinitionText;
import io.bathra.sql.DefinitionText.ColumnText;
import io.bathra.sql.Dialect;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.StringJoiner;

/** The catalogue of MariaDB. Its tables are made anew for each statement, so that each is read by itself. */
public final class MariaDbCatalogue extends Catalogue {
    private static final String COLUMNS = "select table_name, column_name, data_type, column_type,"
            + " coalesce(character_maximum_length, numeric_precision, 0), coalesce(numeric_scale, 0), is_nullable,"
            + " collation_name, column_default, extra, is_generated, generation_expression"
            + " from information_schema.columns where table_schema = ? order by table_name, ordinal_position";

    private static final String INDEXES = "select table_name, index_name, column_name, sub_part, non_unique"
            + " from information_schema.statistics where table_schema = ? order by table_name, index_name, seq_in_index";

    private static final String RULES = "select table_name, constraint_name, delete_rule"
            + " from information_schema.referential_constraints where constraint_schema = ?";

    private static final String REFERENCES = "select table_name, constraint_name, column_name, referenced_table_name,"
            + " referenced_column_name from information_schema.key_column_usage where table_schema = ?"
            + " and referenced_table_name is not null order by table_name, constraint_name, ordinal_position";

    private static final String CHECKS = "select table_name, constraint_name, check_clause"
            + " from information_schema.check_constraints where constraint_schema = ?";

    private static final String SEQUENCES =
            "select table_name from information_schema.tables where table_schema = ? and table_type = 'SEQUENCE'";

    /**
     * How far the server may lag behind the next value that nobody has in memory. Each node of a cluster has values in
     * memory that only itself knows, between which those of others lie, so that nothing can be told.
     */
    private static final String OWN_CACHE =
            "if(increment = 0 and @@auto_increment_increment > 1, 0, cache_size * greatest(increment, 1))";

    /** How many sequences are asked in one statement. */
    private static final int AT_ONCE = 100;

    /** What the index of a primary key is called. */
    private static final String PRIMARY = "PRIMARY";

    private static final String COPY = "bathra_copy";

    public MariaDbCatalogue(Connection connection, Dialect dialect) {
        super(connection, dialect);
    }

    @Override
    Optional<String> schema() throws SQLException {
        return dialect.schema() == null
                ? one("select database()", List.of())
                : listed("select schema_name from information_schema.schemata");
    }

    @Override
    Map<String, LiveTable> tables(String schema) throws SQLException {
        ListedTables tables = new ListedTables();
        List<String> which = List.of(schema);
        each(COLUMNS, which, row -> {
            String byDefault = row.getString(9);
            boolean computed = row.getString(11).equals("ALWAYS");
            boolean drawn = row.getString(10).contains("auto_increment")
                    || (byDefault != null && byDefault.startsWith("nextval("));
            boolean none = byDefault == null || byDefault.equals("NULL") || computed || drawn;
            String unsigned = row.getString(4).contains(" unsigned") ? " unsigned" : "";
            tables.column(
                    row.getString(1),
                    new LiveColumn(
                            row.getString(2),
                            row.getString(3) + unsigned,
                            (int) Math.min(Integer.MAX_VALUE, row.getLong(5)),
                            row.getInt(6),
                            row.getString(7).equals("NO"),
                            row.getString(8),
                            drawn,
                            none ? null : byDefault,
                            computed ? row.getString(12) : null));
        });
        each(INDEXES, which, row -> {
            String table = row.getString(1);
            String index = row.getString(2);
            String column = row.getString(4) == null ? row.getString(3) : null; // or the beginning of its texts alone
            tables.index(table, index, column);
            if (index.equals(PRIMARY)) {
                tables.key(table, row.getString(3));
            }
            if (!row.getBoolean(5)) {
                tables.unique(table, index, column, false);
            }
        });
        Map<String, DeleteRule> rules = new HashMap<>();
        each(RULES, which, row -> rules.put(row.getString(1) + '.' + row.getString(2), rule(row.getString(3))));
        each(
                REFERENCES,
                which,
                row -> tables.foreignKey(
                        row.getString(1),
                        row.getString(2),
                        row.getString(3),
                        row.getString(4),
                        row.getString(5),
                        rules.getOrDefault(row.getString(1) + '.' + row.getString(2), DeleteRule.RESTRICT),
                        false));
        each(CHECKS, which, row -> tables.check(row.getString(1), row.getString(2), row.getString(3)));
        return tables.all();
    }

    /** The catalogue does not list temporary tables, so that both are told by the statements that would make them. */
    @Override
    Map<String, Twin> twins(Map<Table, LiveTable> tables) throws SQLException {
        Map<String, Twin> twins = new LinkedHashMap<>();
        for (Map.Entry<Table, LiveTable> one : tables.entrySet()) {
            twins.put(one.getKey().name(), twin(one.getKey(), one.getValue()));
        }
        return twins;
    }

    private Twin twin(Table table, LiveTable live) {
        try (Statement statement = connection.createStatement()) {
            try {
                statement.execute(dialect.definitions().createTemporary(table.alone(COPY)));
                return Twin.of(shown(live, table.name()), shown(live, COPY));
            } finally {
                statement.execute("drop temporary table if exists " + dialect.qualified(COPY));
            }
        } catch (SQLException e) {
            return Twin.none(live, DriverWords.of(e));
        }
    }

    /** The columns and checks as the statement says that would make such a table. */
    private LiveTable shown(LiveTable live, String table) throws SQLException {
        List<String> sql = new ArrayList<>();
        each("show create table " + dialect.qualified(table), List.of(), row -> sql.add(row.getString(2)));
        DefinitionText text = DefinitionText.of(dialect, sql.get(0));
        Map<String, LiveColumn> columns = new HashMap<>();
        live.columns().forEach(column -> columns.put(column.name(), column));
        return new LiveTable(
                live.name(),
                text.columns().stream()
                        .filter(column -> columns.containsKey(column.name()))
                        .map(column -> shown(Objects.requireNonNull(columns.get(column.name())), column))
                        .toList(),
                live.keyColumns(),
                live.uniques(),
                live.indexes(),
                live.foreignKeys(),
                text.checks().stream()
                        .map(check -> new LiveCheck(
                                check.name().isEmpty() ? Objects.requireNonNullElse(check.column(), "") : check.name(),
                                check.condition()))
                        .toList());
    }

    private static LiveColumn shown(LiveColumn column, ColumnText text) {
        return new LiveColumn(
                column.name(),
                column.type(),
                column.size(),
                column.scale(),
                column.required(),
                column.collation(),
                column.drawn(),
                "null".equals(text.byDefault()) ? null : text.byDefault(),
                text.computed());
    }

    /** A server takes values aside, and tells only where those end; what is left of them tells who draws one. */
    @Override
    Map<String, Standing> standings(String schema) throws SQLException {
        List<String> names = new ArrayList<>();
        each(SEQUENCES, List.of(schema), row -> names.add(row.getString(1)));
        Map<String, Standing> standings = new HashMap<>();
        for (int from = 0; from < names.size(); from += AT_ONCE) {
            List<String> asked = names.subList(from, Math.min(names.size(), from + AT_ONCE));
            StringJoiner some = new StringJoiner(" union all ");
            for (String name : asked) {
                some.add("select ?, next_not_cached_value, " + OWN_CACHE + " from " + dialect.qualified(name));
            }
            each(
                    some.toString(),
                    asked,
                    row -> standings.put(
                            row.getString(1), new Standing(row.getLong(2), row.getLong(2) - row.getLong(3))));
        }
        return standings;
    }

    @Override
    long draw(String sequence) throws SQLException {
        return Long.parseLong(one("select nextval(" + dialect.qualified(sequence) + ")", List.of())
                .orElseThrow());
    }
}
