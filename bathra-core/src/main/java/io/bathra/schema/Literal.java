package io.bathra.schema;

import io.bathra.mapping.ColumnType;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.HexFormat;
import java.util.UUID;

/**
 * A value without its class, as a file can hold it: a truth value, a whole number of 64 bits, a decimal, or a text in
 * Java's own notation.
 */
public final class Literal {
    private Literal() {}

    /** The literal of a value in stored form. */
    public static Object of(Object stored) {
        if (stored instanceof Boolean) {
            return stored;
        } else if (stored instanceof Byte
                || stored instanceof Short
                || stored instanceof Integer
                || stored instanceof Long) {
            return ((Number) stored).longValue();
        } else if (stored instanceof Float || stored instanceof Double) {
            return decimal(new BigDecimal(stored.toString()));
        } else if (stored instanceof BigDecimal decimal) {
            return decimal(decimal);
        } else if (stored instanceof Enum<?> constant) {
            return constant.name();
        }
        return stored instanceof byte[] bytes ? HexFormat.of().formatHex(bytes) : stored.toString();
    }

    /** A decimal, or the whole number that it is. */
    public static Object decimal(BigDecimal decimal) {
        BigDecimal plain = decimal.stripTrailingZeros();
        boolean whole = plain.scale() <= 0 && plain.precision() - plain.scale() < 19;
        return whole ? (Object) plain.longValueExact() : plain;
    }

    /**
     * What a column of a type keeps of a literal; the name of a constant stays a text.
     *
     * @throws RuntimeException when it is no such value
     */
    public static Object as(ColumnType type, Object literal) {
        return switch (type.kind()) {
            case BOOLEAN -> booleanOf(literal);
            case BYTE -> number(literal).byteValueExact();
            case SHORT -> number(literal).shortValueExact();
            case INTEGER -> number(literal).intValueExact();
            case LONG -> number(literal).longValueExact();
            case FLOAT -> number(literal).floatValue();
            case DOUBLE -> number(literal).doubleValue();
            case DECIMAL -> number(literal);
            case CHARACTER -> text(literal).charAt(0);
            case STRING, LONG_TEXT, ENUM -> text(literal);
            case DATE -> LocalDate.parse(text(literal));
            case TIME -> LocalTime.parse(text(literal));
            case DATE_TIME -> LocalDateTime.parse(text(literal));
            case INSTANT -> Instant.parse(text(literal));
            case UUID -> UUID.fromString(text(literal));
            case BYTES -> HexFormat.of().parseHex(text(literal));
        };
    }

    private static BigDecimal number(Object literal) {
        if (literal instanceof Long whole) {
            return BigDecimal.valueOf(whole);
        } else if (literal instanceof BigDecimal decimal) {
            return decimal;
        }
        throw new IllegalArgumentException("'" + literal + "' is no number");
    }

    private static Object booleanOf(Object literal) {
        if (literal instanceof Boolean) {
            return literal;
        }
        throw new IllegalArgumentException("'" + literal + "' is neither true nor false");
    }

    private static String text(Object literal) {
        if ((literal instanceof String text && !text.isEmpty()) || "".equals(literal)) {
            return (String) literal;
        }
        throw new IllegalArgumentException(literal + " is no text; write { value: \"" + literal + "\" }");
    }
}
