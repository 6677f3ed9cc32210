package io.bathra.sql;

import io.bathra.model.ColumnType;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredAttribute;
import io.bathra.plan.Operation;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Index;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import io.bathra.sql.WriteForm.Binding;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * The SQL of one database. What most databases understand stands here; a subclass says what its database does
 * differently. Dialects know nothing of connections.
 */
public abstract class Dialect {
    private static final Pattern PLAIN = Pattern.compile("[a-z][a-z0-9_]*");

    /** The database's name, as a person writes it. */
    public abstract String name();

    // ---- names

    /** A name as it stands in SQL: quoted only where it must be, so that statements stay readable. */
    public final String quote(String name) {
        return isPlain(name) ? name : '"' + name.replace("\"", "\"\"") + '"';
    }

    private static boolean isPlain(String name) {
        return PLAIN.matcher(name).matches() && !ReservedWords.contains(name);
    }

    /** Whether the database's catalogue means the declared name by the one that it lists. */
    public final boolean sameName(String declared, String listed) {
        // A plain name goes unquoted, so the database folds its case as it likes.
        return isPlain(declared) ? declared.equals(listed.toLowerCase(Locale.ROOT)) : declared.equals(listed);
    }

    final String names(List<String> names) {
        return names.stream().map(this::quote).collect(Collectors.joining(", "));
    }

    // ---- tables

    /** The statements that create tables, with their constraints and indexes, foreign keys last. */
    public List<String> create(List<Table> tables) {
        List<String> statements = new ArrayList<>();
        tables.forEach(table -> statements.addAll(beforeTable(table)));
        tables.forEach(table -> statements.add(createTable(table)));
        for (Table table : tables) {
            for (ForeignKey key : table.foreignKeys()) {
                statements.add("alter table " + quote(table.name()) + " add constraint " + quote(key.name())
                        + " foreign key (" + quote(key.column()) + ") references " + quote(key.targetTable()) + " ("
                        + quote(key.targetColumn()) + ")");
            }
        }
        tables.forEach(table -> indexes(table)
                .forEach(index -> statements.add("create index " + quote(index.name()) + " on " + quote(table.name())
                        + " (" + names(index.columns()) + ")")));
        return statements;
    }

    private String createTable(Table table) {
        List<String> lines = new ArrayList<>();
        for (Column column : table.columns()) {
            lines.add(quote(column.name()) + " " + type(column.type())
                    + (column.generated() ? " " + generated(table) : "")
                    + (column.required() ? " not null" : ""));
        }
        lines.add("constraint " + quote(table.primaryKey()) + " primary key (" + quote(table.keyColumn()) + ")");
        for (UniqueConstraint unique : table.uniques()) {
            lines.add("constraint " + quote(unique.name()) + " unique (" + names(unique.columns()) + ")");
        }
        return "create table " + quote(table.name()) + " (\n  " + String.join(",\n  ", lines) + "\n)";
    }

    /** What has to exist before a table can be created. */
    List<String> beforeTable(Table table) {
        return List.of();
    }

    /** The indexes that the database does not make by itself. */
    List<Index> indexes(Table table) {
        return table.indexes();
    }

    /** How a column says that the database draws its values. */
    abstract String generated(Table table);

    /** A column's type. */
    abstract String type(ColumnType type);

    // ---- keys

    /**
     * A query with one placeholder, a number of keys, that draws as many keys in one round trip. The keys are for rows to
     * be written with explicit keys; their order and gaps mean nothing.
     */
    public abstract String drawKeys(ModelEntity<?> entity);

    // ---- conditions

    /** Whether a column has one of these values. */
    abstract String oneOf(String column, ColumnType type, List<?> values, List<SqlText.Param> params);

    /** What follows an ordering term so that rows without a value count as the smallest. */
    String nullsSmallest(boolean descending) {
        return "";
    }

    final String placeholders(int count) {
        return String.join(", ", Collections.nCopies(count, "?"));
    }

    // ---- writing

    /** How to write so many rows. */
    public final WriteForm form(Operation operation, ModelEntity<?> entity, List<StoredAttribute> columns, int rows) {
        return switch (operation) {
            case INSERT -> insert(entity, columns, rows);
            case UPDATE -> update(entity, columns, rows);
            case DELETE -> delete(entity, rows);
        };
    }

    WriteForm insert(ModelEntity<?> entity, List<StoredAttribute> columns, int rows) {
        String head = insertHead(entity, columns) + " values ";
        String row = "(" + placeholders(columns.size()) + ")";
        return new WriteForm(
                Binding.MULTI_ROW,
                Math.max(1, Math.min(1000, mostParameters() / columns.size())),
                columns,
                n -> head + String.join(", ", Collections.nCopies(n, row)));
    }

    WriteForm update(ModelEntity<?> entity, List<StoredAttribute> columns, int rows) {
        List<StoredAttribute> parameters = new ArrayList<>(columns);
        parameters.add(entity.key());
        String sets =
                columns.stream().map(column -> quote(column.column()) + " = ?").collect(Collectors.joining(", "));
        String sql = "update " + quote(entity.table()) + " set " + sets + " where "
                + quote(entity.key().column()) + " = ?";
        return new WriteForm(Binding.BATCH, 1000, parameters, n -> sql);
    }

    WriteForm delete(ModelEntity<?> entity, int rows) {
        String sql = "delete from " + quote(entity.table()) + " where "
                + quote(entity.key().column()) + " = ?";
        return new WriteForm(Binding.BATCH, 1000, List.of(entity.key()), n -> sql);
    }

    final String insertHead(ModelEntity<?> entity, List<StoredAttribute> columns) {
        return "insert into " + quote(entity.table()) + " ("
                + names(columns.stream().map(StoredAttribute::column).toList()) + ")";
    }

    /** The greatest number of placeholders of one statement. */
    int mostParameters() {
        return 32_000;
    }
}
