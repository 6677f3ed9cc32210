package io.bathra.sql;

import io.bathra.model.ColumnType;
import io.bathra.model.ModelEntity;
import io.bathra.schema.Index;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import java.util.ArrayList;
import java.util.List;

/** H2, from version 2 on. */
public final class H2Dialect extends Dialect {
    @Override
    public String name() {
        return "H2";
    }

    /** The sequence behind an identity column is hidden, so keys could not be drawn ahead; hence one of our own. */
    @Override
    List<String> beforeTable(Table table) {
        boolean generated = table.columns().stream().anyMatch(column -> column.generated());
        return generated
                ? List.of("create sequence if not exists " + sequence(table.name()))
                : super.beforeTable(table);
    }

    @Override
    String generated(Table table) {
        return "default next value for " + sequence(table.name());
    }

    private String sequence(String table) {
        return quote(Schema.sequence(table));
    }

    /** H2 makes an index for each foreign key. */
    @Override
    public List<Index> indexes(Table table) {
        List<Index> indexes = new ArrayList<>(table.indexes());
        indexes.removeIf(index ->
                table.foreignKeys().stream().anyMatch(key -> index.columns().equals(key.columns())));
        return indexes;
    }

    /** H2 keeps it anyway. */
    @Override
    String computedOptions() {
        return "";
    }

    @Override
    List<String> afterDrop(Table table) {
        return List.of("drop sequence if exists " + sequence(table.name()));
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
            case BOOLEAN -> "boolean";
            case BYTE, SHORT -> "smallint";
            case INTEGER -> "integer";
            case LONG -> "bigint";
            case FLOAT -> "real";
            case DOUBLE -> "double precision";
            case CHARACTER, STRING, ENUM -> type.length() == 0 ? "varchar" : "varchar(" + type.length() + ")";
            case DECIMAL -> "numeric(" + type.precision() + ", " + type.scale() + ")";
            case DATE -> "date";
            case TIME -> "time(6)";
            case DATE_TIME -> "timestamp(6)";
            case INSTANT -> "timestamp(6) with time zone";
            case UUID -> "uuid";
            case BYTES -> "varbinary";
            case LONG_TEXT -> "clob";
        };
    }

    @Override
    public KeyDraw drawKeys(ModelEntity<?> entity) {
        return drawValues(Schema.sequence(entity.table()));
    }

    @Override
    public KeyDraw drawValues(String sequence) {
        return new KeyDraw("select next value for " + quote(sequence) + " from system_range(1, ?)", false, null);
    }
}
