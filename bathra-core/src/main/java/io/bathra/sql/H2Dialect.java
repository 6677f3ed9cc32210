package io.bathra.sql;

import io.bathra.model.ColumnType;
import java.util.List;
import java.util.Locale;

/** H2, from version 2 on. */
public final class H2Dialect extends OwnSequenceDialect {
    @Override
    public String name() {
        return "H2";
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
    List<String> listedTypes(ColumnType type) {
        return switch (type.kind()) {
            case CHARACTER, STRING, ENUM -> List.of("character varying");
            case BYTES -> List.of("binary varying");
            case LONG_TEXT -> List.of("character large object");
            case DECIMAL -> List.of("numeric");
            case TIME -> List.of("time");
            case DATE_TIME -> List.of("timestamp");
            case INSTANT -> List.of("timestamp with time zone");
            default -> List.of(type(type));
        };
    }

    @Override
    String type(ColumnType type) {
        return switch (type.kind()) {
            case CHARACTER, STRING, ENUM -> type.length() == 0 ? "varchar" : "varchar(" + type.length() + ")";
            case DECIMAL -> "numeric(" + type.precision() + ", " + type.scale() + ")";
            case TIME -> "time(6)";
            case DATE_TIME -> "timestamp(6)";
            case INSTANT -> "timestamp(6) with time zone";
            case UUID -> "uuid";
            case BYTES -> "varbinary";
            case LONG_TEXT -> "clob";
            default -> standardType(type);
        };
    }

    @Override
    public KeyDraw drawValues(String sequence) {
        return new KeyDraw("select next value for " + quote(sequence) + " from system_range(1, ?)", false, null);
    }

    @Override
    public SqlText nextOf(String sequence) {
        String listed = goesUnquoted(sequence) ? sequence.toUpperCase(Locale.ROOT) : sequence;
        return new SqlText(
                "select base_value from information_schema.sequences where sequence_schema = current_schema and"
                        + " sequence_name = " + textLiteral(listed),
                List.of());
    }
}
