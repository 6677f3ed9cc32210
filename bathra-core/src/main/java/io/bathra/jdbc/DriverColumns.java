package io.bathra.jdbc;

import io.bathra.jdbc.TableCatalogue.Namespace;
import io.bathra.schema.LiveColumn;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** The columns of a table as its driver lists them. */
final class DriverColumns {
    private DriverColumns() {}

    static List<LiveColumn> of(DatabaseMetaData metaData, Namespace namespace, String table) throws SQLException {
        List<LiveColumn> columns = new ArrayList<>();
        try (ResultSet rows =
                metaData.getColumns(namespace.catalog(), namespace.schema(), escaped(metaData, table), "%")) {
            while (rows.next()) {
                columns.add(new LiveColumn(
                        rows.getString("COLUMN_NAME"),
                        rows.getString("TYPE_NAME").toLowerCase(Locale.ROOT),
                        rows.getInt("COLUMN_SIZE"),
                        rows.getInt("DECIMAL_DIGITS"),
                        rows.getInt("NULLABLE") == DatabaseMetaData.columnNoNulls,
                        null));
            }
        }
        return columns;
    }

    /** A table's name is a pattern to the driver. */
    private static String escaped(DatabaseMetaData metaData, String table) throws SQLException {
        String escape = metaData.getSearchStringEscape();
        return table.replace(escape, escape + escape).replace("_", escape + "_").replace("%", escape + "%");
    }
}
