package io.bathra.sql;

import io.bathra.error.BathraException;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import io.bathra.mapping.KeySource;
import io.bathra.schema.Column;
import io.bathra.schema.Index;
import io.bathra.schema.Table;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Tables of SQLite. */
final class SqliteDefinitions extends Definitions {
    SqliteDefinitions(Dialect dialect) {
        super(dialect);
    }

    /** Without AUTOINCREMENT, the key of a deleted last row would be given out again. */
    @Override
    @Nullable
    String inlineKey(Table table, Column column) {
        return column.generated()
                ? "integer constraint " + quote(table.primaryKey()) + " primary key autoincrement not null"
                : null;
    }

    @Override
    String generated(Table table) {
        throw new IllegalStateException("a generated key is defined inline");
    }

    /** A table's entry in the sequence table appears with its first row; keys are drawn before that. */
    @Override
    List<String> afterTable(Table table) {
        boolean generated = table.columns().stream().anyMatch(Column::generated);
        return generated
                ? List.of("insert into " + qualified("sqlite_sequence") + " (name, seq) values ("
                        + textLiteral(table.name()) + ", 0)")
                : List.of();
    }

    /** A foreign key never leaves its file. */
    @Override
    String referred(String table) {
        return quote(table);
    }

    @Override
    String createIndex(Index index, Table table) {
        return "create index " + qualified(index.name()) + " on " + quote(table.name());
    }

    @Override
    boolean addsForeignKeysLater() {
        return false;
    }

    /** SQLite takes any value in any column, so a check keeps booleans and lengths. */
    @Override
    String columnType(Table table, Column column) {
        ColumnType type = column.type();
        String name = quote(column.name());
        if (type.kind() == Kind.DECIMAL && type.precision() > SqliteDialect.EXACT_DIGITS) {
            throw new BathraException("the column " + table.name() + "." + column.name() + " is declared with "
                    + type.precision() + " digits, but SQLite keeps no more than " + SqliteDialect.EXACT_DIGITS
                    + " exactly; declare digits(" + SqliteDialect.EXACT_DIGITS + ", " + type.scale() + ") or fewer");
        }
        if (type.kind() == Kind.BOOLEAN) {
            return "integer check (" + name + " in (0, 1))";
        }
        boolean limited = type.kind() == Kind.STRING && type.length() > 0;
        return dialect.type(type) + (limited ? " check (length(" + name + ") <= " + type.length() + ")" : "");
    }

    @Override
    String dropOptions() {
        return "";
    }

    /** Dropping a table deletes its rows first, and the links to them are checked when all is gone. */
    @Override
    public List<String> drop(List<Table> tables) {
        List<String> statements = new ArrayList<>(super.drop(tables));
        statements.add(0, "pragma defer_foreign_keys = on");
        return statements;
    }

    @Override
    List<String> exactCollations() {
        return List.of("binary");
    }

    @Override
    List<String> deleteAll(List<Table> tables) {
        List<String> statements = new ArrayList<>();
        statements.add("pragma defer_foreign_keys = on");
        tables.forEach(table -> statements.add("delete from " + qualified(table.name())));
        return statements;
    }

    @Override
    List<String> setBackOwn(Table table) {
        return List.of(
                "update " + qualified("sqlite_sequence") + " set seq = 0 where name = " + textLiteral(table.name()));
    }

    @Override
    int mostColumns() {
        return 2000;
    }

    @Override
    List<String> listedTypes(ColumnType type) {
        return List.of(
                switch (type.kind()) {
                    case DECIMAL -> "decimal";
                    case BOOLEAN -> "integer in (0, 1)"; // with the check behind it
                    default -> dialect.type(type);
                });
    }

    @Override
    List<String> beforeTable(Table table) {
        if (table.keySource() instanceof KeySource.Sequence sequence) {
            throw SqliteDialect.noSequences(sequence.name());
        }
        return List.of();
    }
}
