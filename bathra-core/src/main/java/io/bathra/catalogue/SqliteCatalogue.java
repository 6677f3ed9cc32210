package io.bathra.catalogue;

import io.bathra.error.BathraException;
import io.bathra.schema.LiveCheck;
import io.bathra.schema.LiveColumn;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Table;
import io.bathra.schema.Twin;
import io.bathra.sql.DefinitionText;
import io.bathra.sql.DefinitionText.CheckText;
import io.bathra.sql.DefinitionText.ColumnText;
import io.bathra.sql.Dialect;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * The catalogue of SQLite. What its pragmas do not tell stands in the statements that made the tables, which it keeps as
 * they were written.
 */
public final class SqliteCatalogue extends Catalogue {
    private static final String MAIN = "main";

    private static final String STATEMENTS = "select name, sql from main.sqlite_master where type = 'table'";

    private static final String COLUMNS = "select m.name, x.name, x.type, x.\"notnull\", x.pk"
            + " from main.sqlite_master m join pragma_table_xinfo(m.name, 'main') x"
            + " where m.type in ('table', 'view') and x.hidden <> 1 order by m.name, x.cid";

    private static final String KEYS = "select m.name, x.name from main.sqlite_master m"
            + " join pragma_table_info(m.name, 'main') x where m.type = 'table' and x.pk > 0 order by m.name, x.pk";

    private static final String REFERENCES = "select m.name, f.id, f.\"from\", f.\"table\", f.\"to\", f.on_delete"
            + " from main.sqlite_master m join pragma_foreign_key_list(m.name, 'main') f where m.type = 'table'"
            + " order by m.name, f.id, f.seq";

    private static final String INDEXES = "select m.name, i.name, x.name, i.\"unique\" from main.sqlite_master m"
            + " join pragma_index_list(m.name, 'main') i join pragma_index_xinfo(i.name, 'main') x"
            + " where m.type = 'table' and not i.partial and x.key order by m.name, i.name, x.seqno";

    private static final Pattern TYPE = Pattern.compile("([^(]*?)\\s*(?:\\(\\s*(\\d+)\\s*(?:,\\s*(\\d+)\\s*)?\\).*)?");

    public SqliteCatalogue(Connection connection, Dialect dialect) {
        super(connection, dialect);
    }

    @Override
    Optional<String> schema() {
        String schema = dialect.schema();
        if (schema != null && !schema.equals(MAIN)) {
            throw new BathraException("on SQLite, tables are created and compared in the schema main alone, not in '"
                    + schema + "'; name main, or create them by hand in the file that is attached under that name");
        }
        return Optional.of(MAIN);
    }

    @Override
    Map<String, LiveTable> tables(String schema) throws SQLException {
        Map<String, DefinitionText> texts = new HashMap<>();
        each(STATEMENTS, List.of(), row -> {
            String sql = row.getString(2);
            if (sql != null) {
                texts.put(row.getString(1), DefinitionText.of(dialect, sql));
            }
        });
        Map<String, List<String>> keys = new HashMap<>();
        each(
                KEYS,
                List.of(),
                row -> keys.computeIfAbsent(row.getString(1), table -> new ArrayList<>())
                        .add(row.getString(2)));
        ListedTables tables = new ListedTables();
        each(COLUMNS, List.of(), row -> {
            String table = row.getString(1);
            DefinitionText text = texts.get(table);
            boolean alone = keys.getOrDefault(table, List.of()).size() == 1 && row.getInt(5) > 0;
            tables.column(table, column(row.getString(2), row.getString(3), row.getBoolean(4), alone, text));
        });
        keys.forEach((table, columns) -> columns.forEach(column -> {
            tables.key(table, column);
            tables.unique(table, "", column, false);
        }));
        each(REFERENCES, List.of(), row -> {
            String table = row.getString(1);
            tables.foreignKey(
                    table,
                    row.getString(2),
                    row.getString(3),
                    row.getString(4),
                    row.getString(5),
                    rule(row.getString(6)),
                    false);
        });
        each(INDEXES, List.of(), row -> {
            tables.index(row.getString(1), row.getString(2), row.getString(3));
            if (row.getBoolean(4)) {
                tables.unique(row.getString(1), row.getString(2), row.getString(3), false);
            }
        });
        Map<String, LiveTable> all = tables.all();
        all.replaceAll((name, table) -> texts.containsKey(name) ? told(table, texts.get(name)) : table);
        return all;
    }

    private static LiveColumn column(
            String name, @Nullable String declared, boolean required, boolean alone, @Nullable DefinitionText text) {
        Matcher matcher = TYPE.matcher(declared == null ? "" : declared.toLowerCase(Locale.ROOT));
        boolean found = matcher.matches();
        String type = found ? matcher.group(1) : "";
        boolean decimal = type.equals("decimal") && matcher.group(2) != null;
        ColumnText told = text == null ? null : told(text, name);
        return new LiveColumn(
                name,
                text != null && type.equals("integer") && isBoolean(text, name) ? "integer in (0, 1)" : type,
                decimal ? Integer.parseInt(matcher.group(2)) : text == null ? 0 : longest(text, name),
                decimal && matcher.group(3) != null ? Integer.parseInt(matcher.group(3)) : 0,
                required,
                told == null ? null : told.collation(),
                alone && type.equals("integer"),
                told == null ? null : told.byDefault(),
                told == null ? null : told.computed());
    }

    private static @Nullable ColumnText told(DefinitionText text, String column) {
        return text.columns().stream()
                .filter(one -> one.name().equalsIgnoreCase(column))
                .findFirst()
                .orElse(null);
    }

    // ---- checks that are a part of a column's type

    private static boolean isBoolean(DefinitionText text, String column) {
        return text.checks().stream().anyMatch(check -> isBoolean(check, column));
    }

    private static boolean isBoolean(CheckText check, String column) {
        return check.condition().equals(DefinitionText.name(column) + " in (0, 1)");
    }

    /** The greatest length of texts; 0 for no limit. */
    private static int longest(DefinitionText text, String column) {
        return text.checks().stream()
                .mapToInt(check -> longest(check, column))
                .max()
                .orElse(0);
    }

    private static int longest(CheckText check, String column) {
        String start = "length(" + DefinitionText.name(column) + ") <= ";
        String rest = check.condition().startsWith(start) ? check.condition().substring(start.length()) : "";
        return rest.matches("\\d{1,9}") ? Integer.parseInt(rest) : 0;
    }

    /** The table with what its statement alone tells. */
    private static LiveTable told(LiveTable table, DefinitionText text) {
        List<LiveCheck> checks = text.checks().stream()
                .filter(check -> table.columns().stream()
                        .noneMatch(column -> isBoolean(check, column.name()) || longest(check, column.name()) > 0))
                .map(check -> new LiveCheck(check.name(), check.condition()))
                .toList();
        return new LiveTable(
                table.name(),
                table.columns(),
                table.keyColumns(),
                table.uniques(),
                table.indexes(),
                table.foreignKeys(),
                checks);
    }

    /** What a table is made with is kept as it is written, so that nothing has to be made. */
    @Override
    Map<String, Twin> twins(Map<Table, LiveTable> tables) {
        Map<String, Twin> twins = new LinkedHashMap<>();
        tables.forEach((table, live) -> {
            DefinitionText text =
                    DefinitionText.of(dialect, dialect.definitions().createTemporary(table.alone(table.name())));
            List<LiveColumn> columns = text.columns().stream()
                    .map(column -> column(column.name(), "", false, false, text))
                    .toList();
            LiveTable copy =
                    new LiveTable(table.name(), columns, List.of(), List.of(), List.of(), List.of(), List.of());
            twins.put(table.name(), Twin.of(live, told(copy, text)));
        });
        return twins;
    }

    /** There is a table of them with the first table that has a generator. */
    @Override
    Map<String, Standing> standings(String schema) throws SQLException {
        Map<String, Standing> standings = new HashMap<>();
        if (one("select 1 from main.sqlite_master where name = 'sqlite_sequence'", List.of())
                .isPresent()) {
            each(
                    "select name, seq + 1 from main.sqlite_sequence",
                    List.of(),
                    row -> standings.put(row.getString(1), Standing.at(row.getLong(2))));
        }
        return standings;
    }
}
