package io.bathra.sql;

import io.bathra.attr.Secret;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Gate;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Objects;
import java.util.UUID;

/** Values of columns as text, and back. */
public final class MarkValues {
    private MarkValues() {}

    /** A value as text. */
    public static String text(Object shown) {
        Object value = Objects.requireNonNull(Secret.open(shown));
        return value instanceof byte[] bytes
                ? HexFormat.of().formatHex(bytes)
                : value instanceof Enum<?> constant ? constant.name() : value.toString();
    }

    /**
     * The value that a text stands for.
     *
     * @throws IllegalArgumentException when it stands for none of the type
     */
    static Object parse(Gate gate, String text) {
        ColumnType type = gate.type();
        try {
            Object value = switch (type.kind()) {
                case BOOLEAN -> Boolean.valueOf(text);
                case BYTE -> Byte.valueOf(text);
                case SHORT -> Short.valueOf(text);
                case INTEGER -> Integer.valueOf(text);
                case LONG -> Long.valueOf(text);
                case FLOAT -> Float.valueOf(text);
                case DOUBLE -> Double.valueOf(text);
                case CHARACTER -> text.charAt(0);
                case STRING, LONG_TEXT -> text;
                case DECIMAL -> new BigDecimal(text);
                case DATE -> LocalDate.parse(text);
                case TIME -> LocalTime.parse(text);
                case DATE_TIME -> LocalDateTime.parse(text);
                case INSTANT -> Instant.parse(text);
                case UUID -> UUID.fromString(text);
                case BYTES -> HexFormat.of().parseHex(text);
                case ENUM -> constant(type, text);
            };
            return gate.marked(value);
        } catch (RuntimeException e) {
            throw new IllegalArgumentException(
                    "the mark of a page holds " + (gate.isSecret() ? "a secret" : "'" + text + "'") + ", which is no "
                            + type.javaType().getSimpleName() + "; begin with the first page",
                    gate.isSecret() ? null : e);
        }
    }

    private static Object constant(ColumnType type, String name) {
        return Arrays.stream(type.javaType().getEnumConstants())
                .filter(constant -> ((Enum<?>) constant).name().equals(name))
                .findFirst()
                .orElseThrow();
    }
}
