package io.bathra.sql;

import io.bathra.error.BathraException;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.schema.Check;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** Turns tables into the statements that create and drop them, in an order that the database takes. */
final class TableWriter {
    private final Dialect dialect;

    TableWriter(Dialect dialect) {
        this.dialect = dialect;
    }

    /**
     * The statements that create tables, with their constraints and indexes. A table comes after those that it refers
     * to; where tables refer to one another in a ring, a foreign key is added at the end.
     */
    List<String> create(List<Table> tables) {
        List<String> statements = new ArrayList<>();
        Set<String> waiting = new HashSet<>();
        tables.forEach(table -> waiting.add(table.name()));
        List<String> late = new ArrayList<>();
        for (Table table : Schema.inDependencyOrder(tables)) {
            waiting.remove(table.name());
            List<ForeignKey> inline = new ArrayList<>();
            for (ForeignKey key : table.foreignKeys()) {
                if (waiting.contains(key.targetTable()) && dialect.definitions().addsForeignKeysLater()) {
                    late.add("alter table " + dialect.qualified(table.name()) + " add " + foreignKey(key));
                } else {
                    inline.add(key);
                }
            }
            statements.addAll(dialect.definitions().beforeTable(table));
            statements.add(createTable("create table ", table, inline));
            statements.addAll(dialect.definitions().afterTable(table));
            dialect.definitions()
                    .indexes(table)
                    .forEach(index -> statements.add(dialect.definitions().createIndex(index, table) + " ("
                            + dialect.names(index.columns()) + ")"));
        }
        statements.addAll(late);
        statements.addAll(keyLines(tables));
        return statements;
    }

    /** The statement that makes a table which is there for this session alone. */
    String createTemporary(Table table) {
        return createTable("create temporary table ", table, List.of());
    }

    /** The statement that makes a table with all that belongs to it but its indexes. */
    String createTable(Table table) {
        return createTable("create table ", table, table.foreignKeys());
    }

    private String createTable(String create, Table table, List<ForeignKey> foreignKeys) {
        int most = dialect.definitions().mostColumns();
        if (table.columns().size() > most) {
            throw new BathraException("the table " + table.name() + " has "
                    + table.columns().size() + " columns, but " + dialect.name() + " keeps " + most
                    + " in one; give some attributes a table of their own, behind a link");
        }
        List<String> lines = new ArrayList<>();
        boolean keyInline = table.keyColumns().isEmpty();
        for (Column column : table.columns()) {
            String inline = dialect.definitions().inlineKey(table, column);
            keyInline |= inline != null;
            lines.add(dialect.quote(column.name()) + " " + (inline == null ? definition(table, column) : inline));
        }
        if (!keyInline) {
            lines.add("constraint " + dialect.quote(table.primaryKey()) + " primary key ("
                    + dialect.names(table.keyColumns()) + ")");
        }
        for (UniqueConstraint unique : table.uniques()) {
            lines.add("constraint " + dialect.quote(unique.name()) + " unique (" + dialect.names(unique.columns()) + ")"
                    + (unique.deferrable() ? dialect.definitions().deferrableUnique() : ""));
        }
        foreignKeys.forEach(key -> lines.add(foreignKey(key)));
        for (Check check : table.checks()) {
            lines.add("constraint " + dialect.quote(check.name()) + " check ("
                    + ConditionWriter.withLiterals(dialect, check) + ")");
        }
        return create + dialect.qualified(table.name()) + " (\n  " + String.join(",\n  ", lines) + "\n)"
                + dialect.definitions().tableOptions();
    }

    /** A column's definition, without its name. */
    String definition(Table table, Column column) {
        if (column.made() instanceof DatabaseMade.Computed computed) {
            return dialect.definitions().columnType(table, column) + " generated always as (" + computed.sql() + ")"
                    + dialect.definitions().computedOptions();
        }
        return dialect.definitions().columnType(table, column)
                + (column.made() instanceof DatabaseMade.Default made ? " default (" + made.sql() + ")" : "")
                + (column.generated() ? " " + dialect.definitions().generated(table) : "")
                + (column.required() ? " not null" : "");
    }

    /** A foreign key, as a line of a table. */
    String foreignKey(ForeignKey key) {
        return "constraint " + dialect.quote(key.name()) + " foreign key (" + dialect.names(key.columns())
                + ") references " + dialect.definitions().referred(key.targetTable()) + " ("
                + dialect.names(key.targetColumns())
                + ")"
                + switch (key.onDelete()) {
                    case RESTRICT -> "";
                    case SET_NULL -> " on delete set null";
                    case CASCADE -> " on delete cascade";
                }
                + (key.deferrable() ? dialect.definitions().deferrableKey() : "");
    }

    /** The statements that drop tables, whatever refers to them, and what was made for them. */
    List<String> drop(List<Table> tables) {
        List<Table> order = new ArrayList<>(Schema.inDependencyOrder(tables));
        Collections.reverse(order);
        List<String> statements = new ArrayList<>();
        order.forEach(table -> statements.add("drop table if exists " + dialect.qualified(table.name())
                + dialect.definitions().dropOptions()));
        order.forEach(table -> statements.addAll(dialect.definitions().afterDrop(table)));
        return statements;
    }

    /** Gives each table whose keys come from a key table its line there. */
    List<String> keyLines(List<Table> tables) {
        List<String> statements = new ArrayList<>();
        for (Table table : tables) {
            if (table.keySource() instanceof KeyTable keys) {
                String owner = Dialect.textLiteral(table.name());
                statements.add("insert into " + dialect.qualified(keys.name()) + " (" + KeyTable.OWNER + ", "
                        + KeyTable.NEXT_KEY
                        + ") select " + owner + ", " + keys.startAt()
                        + " from (select 1 as one) t where not exists (select 1 from "
                        + dialect.qualified(keys.name()) + " where " + KeyTable.OWNER + " = " + owner + ")");
            }
        }
        return statements;
    }
}
