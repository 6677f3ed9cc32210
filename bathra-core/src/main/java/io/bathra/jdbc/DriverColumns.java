package io.bathra.jdbc;

import io.bathra.jdbc.TableCatalogue.Namespace;
import io.bathra.schema.LiveColumn;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;

/** The columns of a table, and its primary key, as the driver lists them. */
final class DriverColumns {
    private DriverColumns() {}

    static List<LiveColumn> of(DatabaseMetaData metaData, Namespace namespace, String table) throws SQLException {
        List<LiveColumn> columns = new ArrayList<>();
        try (ResultSet rows =
                metaData.getColumns(namespace.catalog(), namespace.schema(), pattern(metaData, table), "%")) {
            while (rows.next()) {
                if (rows.getString("TABLE_NAME").equals(table)) {
                    columns.add(new LiveColumn(
                            rows.getString("COLUMN_NAME"),
                            rows.getString("TYPE_NAME").toLowerCase(Locale.ROOT),
                            rows.getInt("COLUMN_SIZE"),
                            rows.getInt("DECIMAL_DIGITS"),
                            rows.getInt("NULLABLE") == DatabaseMetaData.columnNoNulls,
                            null));
                }
            }
        }
        return columns;
    }

    /**
     * A table's name is a pattern to the driver. What might take away a wildcard's meaning, or have it, stands for any
     * character: drivers do not agree on more than that.
     */
    private static String pattern(DatabaseMetaData metaData, String table) throws SQLException {
        return table.replace(metaData.getSearchStringEscape(), "_").replace('%', '_');
    }

    /** The columns of a table's primary key, in their order there. */
    static List<String> key(DatabaseMetaData metaData, Namespace namespace, String table) throws SQLException {
        Map<Integer, String> columns = new TreeMap<>();
        try (ResultSet rows = metaData.getPrimaryKeys(namespace.catalog(), namespace.schema(), table)) {
            while (rows.next()) {
                columns.put(rows.getInt("KEY_SEQ"), rows.getString("COLUMN_NAME"));
            }
        }
        return List.copyOf(columns.values());
    }
}
