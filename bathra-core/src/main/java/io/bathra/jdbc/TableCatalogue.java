package io.bathra.jdbc;

import io.bathra.attr.DeleteRule;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.LiveTable;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Which tables a database has in the model's schema, or the connection's own, as its driver tells. */
public final class TableCatalogue {
    private final Transaction transaction;
    private final DatabaseMetaData metaData;
    private final Namespace namespace;
    private final @Nullable String catalog;
    private final @Nullable String schema;

    /** Where the catalogue of a database lists the tables of a schema. */
    record Namespace(@Nullable String catalog, @Nullable String schema) {}

    private TableCatalogue(Transaction transaction, Namespace namespace) throws SQLException {
        this.transaction = transaction;
        this.metaData = transaction.open().getMetaData();
        this.namespace = namespace;
        this.catalog = namespace.catalog();
        this.schema = namespace.schema();
    }

    private static Optional<TableCatalogue> of(Transaction transaction) throws SQLException {
        Optional<Namespace> namespace = transaction.database().namespace(transaction.open());
        return namespace.isPresent() ? Optional.of(new TableCatalogue(transaction, namespace.get())) : Optional.empty();
    }

    /** The names of the tables, as the database lists them; empty when there is not even the schema. */
    public static Optional<List<String>> names(Transaction transaction) {
        try {
            Optional<TableCatalogue> catalogue = of(transaction);
            return catalogue.isPresent() ? Optional.of(catalogue.get().names()) : Optional.empty();
        } catch (SQLException e) {
            throw transaction.translate(e, "list of tables");
        }
    }

    /** The tables whose names are among those given, as listed. */
    public static List<LiveTable> tables(Transaction transaction, List<String> names) {
        try {
            Optional<TableCatalogue> found = of(transaction);
            if (found.isEmpty()) {
                return List.of();
            }
            TableCatalogue catalogue = found.get();
            List<LiveTable> tables = new ArrayList<>();
            for (String name : names) {
                tables.add(catalogue.table(name));
            }
            return tables;
        } catch (SQLException e) {
            throw transaction.translate(e, "description of tables");
        }
    }

    private List<String> names() throws SQLException {
        List<String> names = new ArrayList<>();
        try (ResultSet tables = metaData.getTables(catalog, schema, "%", null)) {
            while (tables.next()) {
                names.add(tables.getString("TABLE_NAME"));
            }
        }
        return names;
    }

    private LiveTable table(String name) throws SQLException {
        Map<String, List<String>> unique = new LinkedHashMap<>();
        Map<String, List<String>> indexes = new LinkedHashMap<>();
        try (ResultSet rows = metaData.getIndexInfo(catalog, schema, name, false, true)) {
            while (rows.next()) {
                String index = rows.getString("INDEX_NAME");
                String column = transaction.database().indexed(rows.getString("COLUMN_NAME"));
                if (index != null && column != null) {
                    indexes.computeIfAbsent(index, i -> new ArrayList<>()).add(column);
                    if (!rows.getBoolean("NON_UNIQUE")) {
                        unique.computeIfAbsent(index, i -> new ArrayList<>()).add(column);
                    }
                }
            }
        }
        return new LiveTable(
                name,
                transaction.database().columns(transaction, namespace, name),
                transaction.database().keyColumns(transaction, namespace, name),
                List.copyOf(unique.values()),
                List.copyOf(indexes.values()),
                foreignKeys(name));
    }

    private List<ForeignKey> foreignKeys(String table) throws SQLException {
        List<ForeignKey> keys = new ArrayList<>();
        List<String> columns = new ArrayList<>();
        List<String> targets = new ArrayList<>();
        String target = "";
        DeleteRule rule = DeleteRule.RESTRICT;
        try (ResultSet rows = metaData.getImportedKeys(catalog, schema, table)) {
            while (rows.next()) {
                if (rows.getInt("KEY_SEQ") == 1 && !columns.isEmpty()) {
                    keys.add(new ForeignKey("", columns, target, targets, rule, false));
                    columns.clear();
                    targets.clear();
                }
                target = rows.getString("PKTABLE_NAME");
                rule = switch (rows.getShort("DELETE_RULE")) {
                    case DatabaseMetaData.importedKeyCascade -> DeleteRule.CASCADE;
                    case DatabaseMetaData.importedKeySetNull -> DeleteRule.SET_NULL;
                    default -> DeleteRule.RESTRICT;
                };
                columns.add(rows.getString("FKCOLUMN_NAME"));
                targets.add(rows.getString("PKCOLUMN_NAME"));
            }
        }
        if (!columns.isEmpty()) {
            keys.add(new ForeignKey("", columns, target, targets, rule, false));
        }
        return keys;
    }
}
