package io.bathra.catalogue;

import io.bathra.attr.DeleteRule;
import io.bathra.schema.LiveColumn;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Table;
import io.bathra.schema.Twin;
import io.bathra.sql.Definitions;
import io.bathra.sql.Dialect;
import io.bathra.sql.H2Dialect;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * The catalogue of H2. Its tables are made anew for each statement and joined row by row, so that each is read by
 * itself.
 */
public final class H2Catalogue extends Catalogue {
    private static final String COLUMNS = "select table_name, column_name, data_type,"
            + " coalesce(character_maximum_length, numeric_precision, 0), coalesce(numeric_scale, 0), is_nullable,"
            + " collation_name, is_identity, is_generated, column_default, generation_expression"
            + " from information_schema.columns where table_schema = ? order by table_name, ordinal_position";

    private static final String CONSTRAINTS = "select constraint_name, table_name, constraint_type, index_name"
            + " from information_schema.table_constraints where table_schema = ?";

    private static final String CONSTRAINT_COLUMNS =
            "select constraint_name, column_name, position_in_unique_constraint"
                    + " from information_schema.key_column_usage where table_schema = ?"
                    + " order by constraint_name, ordinal_position";

    private static final String REFERENCES = "select constraint_name, unique_constraint_name, delete_rule"
            + " from information_schema.referential_constraints where constraint_schema = ?";

    private static final String CHECKS = "select constraint_name, check_clause"
            + " from information_schema.check_constraints where constraint_schema = ?";

    private static final String INDEXES = "select table_name, index_name, column_name, is_unique"
            + " from information_schema.index_columns where table_schema = ?"
            + " order by table_name, index_name, ordinal_position";

    private static final String SEQUENCES =
            "select sequence_name, base_value from information_schema.sequences where sequence_schema = ?";

    /** What decides how a statement is understood. */
    private static final String SETTINGS = "select setting_name, setting_value from information_schema.settings where"
            + " setting_name in ('MODE', 'DATABASE_TO_UPPER', 'DATABASE_TO_LOWER', 'CASE_INSENSITIVE_IDENTIFIERS')";

    public H2Catalogue(Connection connection, Dialect dialect) {
        super(connection, dialect);
    }

    @Override
    Optional<String> schema() throws SQLException {
        return dialect.schema() == null
                ? one("call schema()", List.of())
                : listed("select schema_name from information_schema.schemata");
    }

    private record Constraint(
            String table, String kind, @Nullable String index) {}

    private record KeyColumn(String name, int target) {}

    private record Reference(String target, DeleteRule rule) {}

    @Override
    Map<String, LiveTable> tables(String schema) throws SQLException {
        ListedTables tables = new ListedTables();
        List<String> which = List.of(schema);
        each(COLUMNS, which, row -> {
            String byDefault = row.getString(10);
            boolean drawn = row.getString(8).equals("YES")
                    || (byDefault != null && byDefault.toUpperCase(Locale.ROOT).startsWith("NEXT VALUE FOR"));
            boolean computed = row.getString(9).equals("ALWAYS");
            tables.column(
                    row.getString(1),
                    new LiveColumn(
                            row.getString(2),
                            row.getString(3).toLowerCase(Locale.ROOT),
                            (int) Math.min(Integer.MAX_VALUE, row.getLong(4)),
                            row.getInt(5),
                            row.getString(6).equals("NO"),
                            row.getString(7),
                            drawn,
                            drawn || computed ? null : byDefault,
                            computed ? row.getString(11) : null));
        });
        Map<String, List<String>> indexes = new HashMap<>();
        each(INDEXES, which, row -> {
            indexes.computeIfAbsent(row.getString(2), name -> new ArrayList<>()).add(row.getString(3));
            tables.index(row.getString(1), row.getString(2), row.getString(3));
            if (row.getBoolean(4)) {
                tables.unique(row.getString(1), row.getString(2), row.getString(3), false);
            }
        });
        constraints(tables, which, indexes);
        return tables.all();
    }

    /**
     * After a column was renamed, its constraints are listed with the old name until the database is opened again, but not
     * their indexes. That of a foreign key may have its columns in another order.
     */
    private static List<KeyColumn> current(Constraint constraint, List<KeyColumn> listed, List<String> index) {
        List<String> names = listed.stream().map(KeyColumn::name).toList();
        boolean known = constraint.kind().equals("FOREIGN KEY") && index.containsAll(names);
        if (known || index.size() < names.size()) {
            return listed;
        }
        List<KeyColumn> current = new ArrayList<>();
        for (int i = 0; i < listed.size(); i++) {
            current.add(new KeyColumn(index.get(i), listed.get(i).target()));
        }
        return current;
    }

    private void constraints(ListedTables tables, List<String> schema, Map<String, List<String>> indexes)
            throws SQLException {
        Map<String, Constraint> constraints = new LinkedHashMap<>();
        each(
                CONSTRAINTS,
                schema,
                row -> constraints.put(
                        row.getString(1), new Constraint(row.getString(2), row.getString(3), row.getString(4))));
        Map<String, List<KeyColumn>> columns = new HashMap<>();
        each(
                CONSTRAINT_COLUMNS,
                schema,
                row -> columns.computeIfAbsent(row.getString(1), name -> new ArrayList<>())
                        .add(new KeyColumn(row.getString(2), row.getInt(3))));
        constraints.forEach((name, constraint) -> columns.computeIfPresent(
                name,
                (same, listed) -> current(constraint, listed, indexes.getOrDefault(constraint.index(), List.of()))));
        Map<String, Reference> references = new HashMap<>();
        each(
                REFERENCES,
                schema,
                row -> references.put(row.getString(1), new Reference(row.getString(2), rule(row.getString(3)))));
        Map<String, String> checks = new HashMap<>();
        each(CHECKS, schema, row -> checks.put(row.getString(1), row.getString(2)));
        constraints.forEach((name, constraint) -> {
            String table = constraint.table();
            List<KeyColumn> own = columns.getOrDefault(name, List.of());
            switch (constraint.kind()) {
                case "PRIMARY KEY" -> own.forEach(column -> tables.key(table, column.name()));
                case "FOREIGN KEY" -> {
                    Reference reference = references.get(name);
                    Constraint target = reference == null ? null : constraints.get(reference.target());
                    if (reference != null && target != null) {
                        List<KeyColumn> others = columns.getOrDefault(reference.target(), List.of());
                        own.forEach(column -> tables.foreignKey(
                                table,
                                name,
                                column.name(),
                                target.table(),
                                others.get(column.target() - 1).name(),
                                reference.rule(),
                                false));
                    }
                }
                case "CHECK" -> tables.check(table, name, checks.getOrDefault(name, ""));
                default -> own.forEach(column -> tables.unique(table, name, column.name(), false));
            }
        });
    }

    /** In a database of their own, in memory: a statement that creates anything would commit here. */
    @Override
    Map<String, Twin> twins(Map<Table, LiveTable> tables) throws SQLException {
        StringBuilder url = new StringBuilder("jdbc:h2:mem:");
        each(
                SETTINGS,
                List.of(),
                row -> url.append(';').append(row.getString(1)).append('=').append(row.getString(2)));
        try (Connection other = DriverManager.getConnection(url.toString())) {
            H2Catalogue copies = new H2Catalogue(other, new H2Dialect(null));
            Map<String, String> failures = new HashMap<>();
            for (Table table : tables.keySet()) {
                copies.create(table).ifPresent(failure -> failures.put(table.name(), failure));
            }
            Map<String, LiveTable> made =
                    copies.wanted(copies.tables(copies.schema().orElseThrow()), List.copyOf(tables.keySet()));
            Map<String, Twin> twins = new LinkedHashMap<>();
            tables.forEach((table, live) ->
                    twins.put(table.name(), twin(live, made.get(table.name()), failures.get(table.name()))));
            return twins;
        }
    }

    private Optional<String> create(Table table) {
        Definitions definitions = dialect.definitions();
        try (Statement statement = connection.createStatement()) {
            for (String sql : definitions.create(List.of(table.alone(table.name())))) {
                statement.execute(sql);
            }
            return Optional.empty();
        } catch (SQLException e) {
            return Optional.of(DriverWords.of(e));
        }
    }

    @Override
    Map<String, Standing> standings(String schema) throws SQLException {
        Map<String, Standing> standings = new HashMap<>();
        each(SEQUENCES, List.of(schema), row -> {
            String name = row.getString(1);
            standings.put(name, Standing.at(row.getLong(2)));
            standings.put(name.toLowerCase(Locale.ROOT), Standing.at(row.getLong(2))); // as it is declared
        });
        return standings;
    }
}
