package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Gate;
import java.sql.ResultSet;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.HashMap;
import java.util.Map;
import java.util.UUID;

/** What reads the columns of each type where a driver does what JDBC says. */
final class StandardReaders {
    private StandardReaders() {}

    /** A number is missing only where the driver gives zero, so it is asked only then. */
    static ColumnReader of(ColumnType type) {
        return switch (type.kind()) {
            case BOOLEAN ->
                (result, index) -> {
                    boolean value = result.getBoolean(index);
                    return !value && result.wasNull() ? null : (Object) value;
                };
            case BYTE ->
                (result, index) -> {
                    byte value = result.getByte(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case SHORT ->
                (result, index) -> {
                    short value = result.getShort(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case INTEGER ->
                (result, index) -> {
                    int value = result.getInt(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case LONG ->
                (result, index) -> {
                    long value = result.getLong(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case FLOAT ->
                (result, index) -> {
                    float value = result.getFloat(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case DOUBLE ->
                (result, index) -> {
                    double value = result.getDouble(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case STRING, LONG_TEXT -> ResultSet::getString;
            case BYTES -> ResultSet::getBytes;
            case DATE -> (result, index) -> result.getObject(index, LocalDate.class);
            case TIME -> (result, index) -> result.getObject(index, LocalTime.class);
            case DATE_TIME -> (result, index) -> result.getObject(index, LocalDateTime.class);
            case UUID -> (result, index) -> result.getObject(index, UUID.class);
            case DECIMAL -> {
                Gate gate = Gate.of(type.words(), type);
                yield (result, index) -> gate.read(result.getBigDecimal(index));
            }
            case INSTANT ->
                (result, index) -> {
                    OffsetDateTime time = result.getObject(index, OffsetDateTime.class);
                    return time == null ? null : time.toInstant();
                };
            case CHARACTER ->
                (result, index) -> {
                    String text = result.getString(index);
                    return text == null || text.isEmpty() ? null : (Object) text.charAt(0);
                };
            case ENUM -> constants(type);
        };
    }

    private static ColumnReader constants(ColumnType type) {
        Map<String, Object> byName = new HashMap<>();
        for (Object constant : type.javaType().getEnumConstants()) {
            byName.put(((Enum<?>) constant).name(), constant);
        }
        return (result, index) -> {
            String name = result.getString(index);
            Object constant = name == null ? null : byName.get(name);
            if (name != null && constant == null) {
                throw new BathraException("a row holds '" + name + "', which "
                        + type.javaType().getSimpleName() + " does not have; add the constant, or mend the row");
            }
            return constant;
        };
    }
}
