package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import java.util.ArrayList;
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

    @Override
    List<String> deleteAll(List<String> tables) {
        List<String> statements = new ArrayList<>();
        statements.add("set referential_integrity false");
        tables.forEach(table -> statements.add("delete from " + table));
        return statements;
    }

    @Override
    public List<String> afterDeletingAll() {
        return List.of("set referential_integrity true");
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
