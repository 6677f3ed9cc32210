package io.bathra.jdbc;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** Which tables a database has, as its driver tells. */
public final class TableCatalogue {
    private TableCatalogue() {}

    /** The names of the tables in the connection's current schema, as the database lists them. */
    public static List<String> tables(Transaction transaction) {
        Connection connection = transaction.open();
        List<String> names = new ArrayList<>();
        try (ResultSet tables =
                connection.getMetaData().getTables(connection.getCatalog(), connection.getSchema(), "%", null)) {
            while (tables.next()) {
                names.add(tables.getString("TABLE_NAME"));
            }
        } catch (SQLException e) {
            throw transaction.translate(e, "list of tables");
        }
        return names;
    }
}
