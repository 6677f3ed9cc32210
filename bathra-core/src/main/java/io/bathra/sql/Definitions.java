package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.schema.Column;
import io.bathra.schema.Comparison;
import io.bathra.schema.Index;
import io.bathra.schema.LiveColumn;
import io.bathra.schema.Table;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * How tables and what belongs to them are created, dropped and compared with what a catalogue lists. What most
 * databases understand stands here.
 */
public abstract class Definitions extends DialectPart implements Comparison.Spelling {
    Definitions(Dialect dialect) {
        super(dialect);
    }

    // ---- tables

    /**
     * The statements that create tables, with their constraints and indexes. A table comes after those that it refers
     * to; where tables refer to one another in a ring, a foreign key is added at the end.
     */
    public final List<String> create(List<Table> tables) {
        return new TableWriter(dialect).create(tables);
    }

    /** The statement that makes a table which is there for this session alone. */
    public final String createTemporary(Table table) {
        return new TableWriter(dialect).createTemporary(table);
    }

    /** The statements that drop tables, whatever refers to them, and what was made for them. */
    public List<String> drop(List<Table> tables) {
        return new TableWriter(dialect).drop(tables);
    }

    /** The statement that makes the schema which the model names. */
    public String createSchema(String name) {
        return "create schema " + quote(name);
    }

    /**
     * The statements that delete all rows of tables, whatever order they refer to one another in, and set back what
     * draws their keys.
     */
    public final List<String> empty(List<Table> tables) {
        List<String> statements = new ArrayList<>(deleteAll(tables));
        for (Table table : tables) {
            if (table.keySource() instanceof KeyTable keys) {
                statements.add("update " + qualified(keys.name()) + " set " + KeyTable.NEXT_KEY + " = " + keys.startAt()
                        + " where " + KeyTable.OWNER + " = " + textLiteral(table.name()));
            } else if (table.keySource() instanceof KeySource.Sequence sequence) {
                statements.add(setBack(qualified(sequence.name())));
            } else if (table.columns().stream().anyMatch(Column::generated)) {
                statements.addAll(setBackOwn(table));
            }
        }
        return statements.stream().distinct().toList();
    }

    /** The statements that delete all rows of tables. */
    abstract List<String> deleteAll(List<Table> tables);

    /** What is executed behind those that delete all rows, whether they have failed or not. */
    public List<String> afterDeletingAll(List<Table> tables) {
        return List.of();
    }

    /** The statement that makes a sequence begin again, given its name as it stands in SQL. */
    String setBack(String sequence) {
        return "alter sequence " + sequence + " restart with 1";
    }

    /** The statements that make a table's own generator begin again. */
    abstract List<String> setBackOwn(Table table);

    /** What a foreign key calls the table that it refers to. */
    String referred(String table) {
        return qualified(table);
    }

    /** The beginning of a statement that creates an index, up to the table's name. */
    String createIndex(Index index, Table table) {
        return "create index " + quote(index.name()) + " on " + qualified(table.name());
    }

    /** What makes a computed column keep its value. */
    String computedOptions() {
        return " stored";
    }

    /**
     * A key column whose definition holds the primary key constraint too; null where the constraint stands by itself.
     */
    @Nullable
    String inlineKey(Table table, Column column) {
        return null;
    }

    /** Whether a foreign key can be added to a table that is there. */
    boolean addsForeignKeysLater() {
        return true;
    }

    /** What follows a table's closing parenthesis. */
    String tableOptions() {
        return "";
    }

    /** What follows a table's name so that foreign keys that refer to it go too. */
    String dropOptions() {
        return " cascade";
    }

    /** What is left to drop when a table has gone. */
    List<String> afterDrop(Table table) {
        return List.of();
    }

    /** What the catalogue calls the types that keep such values, in small letters. */
    abstract List<String> listedTypes(ColumnType type);

    @Override
    public final boolean sameName(String declared, String listed) {
        return dialect.sameName(declared, listed);
    }

    @Override
    public Optional<String> typeMismatch(Table table, Column declared, LiveColumn listed) {
        ColumnType type = declared.type();
        boolean text = type.kind() == ColumnType.Kind.STRING && type.length() > 0;
        boolean names = type.kind() == ColumnType.Kind.ENUM;
        boolean decimal = type.kind() == ColumnType.Kind.DECIMAL;
        boolean fits = listedTypes(type).contains(listed.type())
                && (!text || listed.size() == type.length())
                && (!names || listed.size() == 0 || listed.size() >= type.length()) // or the longest does not go in
                && (!decimal || (listed.size() == type.precision() && listed.scale() == type.scale()));
        if (fits) {
            return Optional.empty();
        }
        String size = listed.size() == 0
                ? ""
                : text || names
                        ? "(" + listed.size() + ")"
                        : decimal ? "(" + listed.size() + ", " + listed.scale() + ")" : "";
        return Optional.of("it is " + listed.type() + size + ", but should be " + columnType(table, declared));
    }

    /** The collations by which texts are what they are, in the order of their characters' numbers; ours first. */
    abstract List<String> exactCollations();

    @Override
    public final Optional<String> collationMismatch(Column declared, LiveColumn listed) {
        String collation = listed.collation();
        return collation == null || exactCollations().stream().anyMatch(collation::equalsIgnoreCase)
                ? Optional.empty()
                : Optional.of("its collation is " + collation + ", by which different texts may be the same or have"
                        + " another order, but should be " + exactCollations().get(0));
    }

    @Override
    public final boolean defersUniques() {
        return !deferrableUnique().isEmpty();
    }

    @Override
    public final boolean defersKeys() {
        return !deferrableKey().isEmpty();
    }

    /** What makes a unique constraint deferrable, where the database can. */
    String deferrableUnique() {
        return "";
    }

    /** What makes a foreign key deferrable, where the database can. */
    String deferrableKey() {
        return "";
    }

    /** What a new table needs before it can be used. */
    List<String> afterTable(Table table) {
        return List.of();
    }

    /** How many columns a table can have. */
    abstract int mostColumns();

    /** What has to exist before a table can be created. */
    List<String> beforeTable(Table table) {
        if (table.keySource() instanceof KeySource.Sequence sequence) {
            return List.of(createSequence(sequence));
        }
        return List.of();
    }

    /** The statement that creates a sequence from which several tables may draw their keys. */
    String createSequence(KeySource.Sequence sequence) {
        return "create sequence if not exists " + qualified(sequence.name()) + " start with 1 increment by "
                + sequence.block();
    }

    /** The indexes that the database does not make by itself. */
    @Override
    public List<Index> indexes(Table table) {
        return table.indexes();
    }

    /** How a column says that the database draws its values. */
    abstract String generated(Table table);

    /** A column's type in a table, with whatever keeps the values within it. */
    String columnType(Table table, Column column) {
        return dialect.type(column.type());
    }
}
