package io.bathra.schema;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.mapping.Mapping;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The tables that a model asks for, as a value.
 *
 * @param tables in the order of the model's entities, without views; tables that keys are drawn from come after them
 */
public record Schema(List<Table> tables) {
    /** The longest name of a table on any of the databases. */
    private static final int LONGEST_NAME = 256;

    /** The columns of the table for commit tokens. */
    public static final String TOKEN = "token";

    public static final String TOKEN_TIME = "made_at";

    private static final int TOKEN_LENGTH = 36;

    /** The table of what a database has had, and that of who is at work. */
    public static final String LEDGER = "bathra_change";

    public static final String CLAIM = "bathra_claim";

    private static final int WHO_LENGTH = 200;

    public Schema {
        tables = List.copyOf(tables);
    }

    /** The schema of a model. */
    public static Schema of(Mapping model) {
        return new Schema(ModelLayout.of(model).tables());
    }

    /** The tables, each after those that its foreign keys refer to, as far as they do not form a ring. */
    public static List<Table> inDependencyOrder(List<Table> tables) {
        Map<String, Table> open = new LinkedHashMap<>();
        tables.forEach(table -> open.put(table.name(), table));
        List<Table> ordered = new ArrayList<>();
        while (!open.isEmpty()) {
            Table next = open.values().stream()
                    .filter(table -> table.foreignKeys().stream()
                            .allMatch(key ->
                                    key.targetTable().equals(table.name()) || !open.containsKey(key.targetTable())))
                    .findFirst()
                    .orElseGet(() -> open.values().iterator().next());
            open.remove(next.name());
            ordered.add(next);
        }
        return ordered;
    }

    /** The name of the sequence that draws a table's keys, where the database needs one of its own. */
    public static String sequence(String table) {
        return ConstraintNames.of(table, List.of(), "seq");
    }

    static Table keyTable(String name) {
        Column owner = new Column(KeyTable.OWNER, ColumnType.text(LONGEST_NAME), true, false, null);
        Column next = new Column(KeyTable.NEXT_KEY, ColumnType.number(), true, false, null);
        return ofKeyAndColumns(name, owner, next);
    }

    /** The commit tokens of units of work, and when they were made. */
    static Table tokenTable(String name) {
        ColumnType instant = ColumnType.of(Instant.class).orElseThrow();
        return ofKeyAndColumns(
                name,
                new Column(TOKEN, ColumnType.text(TOKEN_LENGTH), true, false, null),
                new Column(TOKEN_TIME, instant, true, false, null));
    }

    /** A line for each change file. */
    public static Table ledgerTable() {
        ColumnType instant = ColumnType.of(Instant.class).orElseThrow();
        return ofKeyAndColumns(
                LEDGER,
                new Column("name", ColumnType.text(WHO_LENGTH), true, false, null),
                new Column("fingerprint", ColumnType.text(64), true, false, null),
                new Column("place", ColumnType.number(), true, false, null),
                new Column("done", ColumnType.number(), true, false, null),
                new Column("intended", ColumnType.number(), true, false, null),
                new Column("begun_at", instant, true, false, null),
                new Column("ended_at", instant, false, false, null),
                new Column("host", ColumnType.text(WHO_LENGTH), true, false, null),
                new Column("process", ColumnType.text(WHO_LENGTH), true, false, null),
                new Column("breaking", ColumnType.text(0).asLongText(), false, false, null));
    }

    /** A single row. */
    public static Table claimTable() {
        return ofKeyAndColumns(
                CLAIM,
                new Column("id", ColumnType.number(), true, false, null),
                new Column("owner", ColumnType.text(TOKEN_LENGTH), false, false, null),
                new Column("session_id", ColumnType.text(WHO_LENGTH), false, false, null),
                new Column("host", ColumnType.text(WHO_LENGTH), false, false, null),
                new Column("process", ColumnType.text(WHO_LENGTH), false, false, null),
                new Column("since", ColumnType.text(WHO_LENGTH), false, false, null));
    }

    private static Table ofKeyAndColumns(String name, Column... columns) {
        List<String> key = List.of(columns[0].name());
        return new Table(
                name,
                List.of(columns),
                ConstraintNames.of(name, key, "pk"),
                key,
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                KeySource.ASSIGNED);
    }
}
