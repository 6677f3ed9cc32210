package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/** Tables of H2. */
final class H2Definitions extends OwnSequenceDefinitions {
    H2Definitions(Dialect dialect) {
        super(dialect);
    }

    /** The sequence behind an identity column is hidden, so keys could not be drawn ahead; hence one of our own. */
    @Override
    String nextValue(String sequence) {
        return "next value for " + sequence;
    }

    /** H2 keeps it anyway. */
    @Override
    String computedOptions() {
        return "";
    }

    @Override
    List<String> exactCollations() {
        return List.of("off");
    }

    /** Rows that refer to others go first; where tables refer to one another or to themselves, that is not looked at. */
    @Override
    List<String> deleteAll(List<Table> tables) {
        List<Table> order = new ArrayList<>(Schema.inDependencyOrder(tables));
        Collections.reverse(order);
        List<String> statements = new ArrayList<>(integrity(tables, false));
        order.forEach(table -> statements.add("delete from " + qualified(table.name())));
        return statements;
    }

    @Override
    public List<String> afterDeletingAll(List<Table> tables) {
        return integrity(tables, true);
    }

    private List<String> integrity(List<Table> tables, boolean looked) {
        List<String> before = new ArrayList<>();
        List<String> statements = new ArrayList<>();
        for (Table table : Schema.inDependencyOrder(tables)) {
            boolean ring = table.foreignKeys().stream().anyMatch(key -> !before.contains(key.targetTable()));
            if (ring) {
                statements.add("alter table " + qualified(table.name()) + " set referential_integrity " + looked);
            }
            before.add(table.name());
        }
        return statements;
    }

    @Override
    int mostColumns() {
        return 16384;
    }

    @Override
    List<String> listedTypes(ColumnType type) {
        return switch (type.kind()) {
            case CHARACTER, STRING, ENUM -> List.of("character varying");
            case BYTES -> List.of("binary varying");
            case LONG_TEXT -> List.of("character large object");
            case DECIMAL -> List.of("numeric");
            case TIME -> List.of("time");
            case DATE_TIME -> List.of("timestamp");
            case INSTANT -> List.of("timestamp with time zone");
            default -> List.of(dialect.type(type));
        };
    }
}
