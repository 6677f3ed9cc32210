package io.bathra.mapping;

import java.lang.invoke.MethodType;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.Arrays;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * What a column keeps of a Java value.
 *
 * @param kind the family of values
 * @param javaType the class of the values, boxed
 * @param length the greatest length of a text in UTF-16 units, 0 for no limit
 * @param precision the number of digits of a decimal
 * @param scale the number of these digits that come after the point
 */
public record ColumnType(Kind kind, Class<?> javaType, int length, int precision, int scale) {
    /** The families of values that a column can keep. */
    public enum Kind {
        BOOLEAN,
        BYTE,
        SHORT,
        INTEGER,
        LONG,
        FLOAT,
        DOUBLE,
        CHARACTER,
        STRING,
        LONG_TEXT,
        DECIMAL,
        ENUM,
        DATE,
        TIME,
        DATE_TIME,
        INSTANT,
        UUID,
        BYTES;

        /** Whether it keeps texts, of whatever length. */
        public boolean isText() {
            return this == CHARACTER || this == STRING || this == LONG_TEXT || this == ENUM;
        }

        /** Whether it keeps whole numbers alone. */
        public boolean isWhole() {
            return this == BYTE || this == SHORT || this == INTEGER || this == LONG;
        }
    }

    /** The digits of a decimal for which nothing else is declared: as many as every database keeps exactly. */
    static final int DEFAULT_PRECISION = 15;

    static final int DEFAULT_SCALE = 4;

    private static final Map<Class<?>, Kind> KINDS = Map.ofEntries(
            Map.entry(Boolean.class, Kind.BOOLEAN),
            Map.entry(Byte.class, Kind.BYTE),
            Map.entry(Short.class, Kind.SHORT),
            Map.entry(Integer.class, Kind.INTEGER),
            Map.entry(Long.class, Kind.LONG),
            Map.entry(Float.class, Kind.FLOAT),
            Map.entry(Double.class, Kind.DOUBLE),
            Map.entry(Character.class, Kind.CHARACTER),
            Map.entry(String.class, Kind.STRING),
            Map.entry(BigDecimal.class, Kind.DECIMAL),
            Map.entry(LocalDate.class, Kind.DATE),
            Map.entry(LocalTime.class, Kind.TIME),
            Map.entry(LocalDateTime.class, Kind.DATE_TIME),
            Map.entry(Instant.class, Kind.INSTANT),
            Map.entry(UUID.class, Kind.UUID),
            Map.entry(byte[].class, Kind.BYTES));

    /** The type for values of a class as far as convention knows one. */
    public static Optional<ColumnType> of(Class<?> javaType) {
        Class<?> boxed = MethodType.methodType(javaType).wrap().returnType();
        Kind kind = boxed.isEnum() ? Kind.ENUM : KINDS.get(boxed);
        if (kind == null) {
            return Optional.empty();
        }
        int length = kind == Kind.ENUM ? longestName(boxed) : kind == Kind.CHARACTER ? 1 : 0;
        boolean decimal = kind == Kind.DECIMAL;
        return Optional.of(
                new ColumnType(kind, boxed, length, decimal ? DEFAULT_PRECISION : 0, decimal ? DEFAULT_SCALE : 0));
    }

    /** A text of so many UTF-16 units at most. */
    public static ColumnType text(int length) {
        return new ColumnType(Kind.STRING, String.class, length, 0, 0);
    }

    /** A whole number of 64 bits. */
    public static ColumnType number() {
        return new ColumnType(Kind.LONG, Long.class, 0, 0, 0);
    }

    private static int longestName(Class<?> enumType) {
        return Arrays.stream(enumType.getEnumConstants())
                .mapToInt(constant -> ((Enum<?>) constant).name().length())
                .max()
                .orElse(1);
    }

    /** In words: {@code text(80)}, {@code decimal(6, 2)}, {@code date time}, the name of an enum. */
    public String words() {
        return switch (kind) {
            case STRING -> "text" + (length > 0 ? "(" + length + ")" : "");
            case DECIMAL -> "decimal(" + precision + ", " + scale + ")";
            case ENUM -> javaType.getSimpleName();
            default -> kind.name().toLowerCase(Locale.ROOT).replace('_', ' ');
        };
    }

    /** The same without the class of the user's that it may keep values of. */
    public ColumnType plain() {
        return switch (kind) {
            case ENUM -> new ColumnType(kind, Enum.class, length, precision, scale);
            case LONG_TEXT -> new ColumnType(kind, String.class, length, precision, scale);
            default -> this;
        };
    }

    /** The same with other digits behind the point, for what is computed and not kept. */
    public ColumnType ofScale(int newScale) {
        return new ColumnType(kind, javaType, length, 0, newScale);
    }

    public ColumnType asLongText() {
        return new ColumnType(Kind.LONG_TEXT, javaType, 0, 0, 0);
    }

    public ColumnType withLength(int newLength) {
        return new ColumnType(kind, javaType, newLength, precision, scale);
    }

    public ColumnType withDigits(int newPrecision, int newScale) {
        return new ColumnType(kind, javaType, length, newPrecision, newScale);
    }
}
