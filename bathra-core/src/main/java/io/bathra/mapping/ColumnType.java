package io.bathra.mapping;

import java.lang.invoke.MethodType;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

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
        BYTES
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

    /**
     * The value as the column will give it back: times cut to microseconds, decimals at the column's scale where that
     * loses nothing, zero without a sign; the character NUL, with which Java begins, as no value. Arrays are copied, so
     * that a later change of the array can be seen.
     */
    public @Nullable Object kept(@Nullable Object value) {
        if (value == null) {
            return null;
        }
        return switch (kind) {
            case TIME -> ((LocalTime) value).truncatedTo(ChronoUnit.MICROS);
            case DATE_TIME -> ((LocalDateTime) value).truncatedTo(ChronoUnit.MICROS);
            case INSTANT -> ((Instant) value).truncatedTo(ChronoUnit.MICROS);
            case DECIMAL -> atScale((BigDecimal) value);
            case BYTES -> ((byte[]) value).clone();
            case DOUBLE -> value.equals(-0.0) ? (Object) 0.0 : value;
            case FLOAT -> value.equals(-0.0f) ? (Object) 0.0f : value;
            case CHARACTER -> value.equals('\0') ? null : value;
            default -> value;
        };
    }

    /**
     * A value that is compared with one of the column, as the column would keep it: whole numbers widened, times cut. A
     * decimal is left as exact as it is, and so is what the column could not keep.
     */
    public Object compared(Object value) {
        if (value instanceof Long && kind == Kind.LONG || value instanceof String || value instanceof UUID) {
            return value; // as most keys are
        }
        Object widened = widened(value);
        if (kind == Kind.DECIMAL || kind == Kind.CHARACTER || !javaType.isInstance(widened)) {
            return widened;
        }
        return Objects.requireNonNull(kept(widened));
    }

    /**
     * Numbers of narrower types are taken for one of the column's where nothing is lost; anything else is left alone.
     */
    public Object widened(Object value) {
        boolean whole =
                value instanceof Byte || value instanceof Short || value instanceof Integer || value instanceof Long;
        if (!whole) {
            return value instanceof Float single && kind == Kind.DOUBLE
                    ? (Object) single.doubleValue()
                    : value instanceof BigInteger number && kind == Kind.DECIMAL ? new BigDecimal(number) : value;
        }
        long number = ((Number) value).longValue();
        return switch (kind) {
            case LONG -> number;
            case INTEGER -> number == (int) number ? (Object) (int) number : value;
            case SHORT -> number == (short) number ? (Object) (short) number : value;
            case BYTE -> number == (byte) number ? (Object) (byte) number : value;
            case DOUBLE -> number == (long) (double) number ? (Object) (double) number : value;
            case DECIMAL -> BigDecimal.valueOf(number);
            default -> value;
        };
    }

    /** Whether a kept value is what the column would keep of another one. */
    public boolean same(@Nullable Object kept, @Nullable Object value) {
        if (kept == value) {
            return true;
        }
        if (kept == null || value == null) {
            return kept == null && kind == Kind.CHARACTER && value.equals('\0');
        }
        return switch (kind) {
            case TIME -> kept.equals(((LocalTime) value).truncatedTo(ChronoUnit.MICROS));
            case DATE_TIME -> kept.equals(((LocalDateTime) value).truncatedTo(ChronoUnit.MICROS));
            case INSTANT -> kept.equals(((Instant) value).truncatedTo(ChronoUnit.MICROS));
            case DECIMAL -> ((BigDecimal) kept).compareTo((BigDecimal) value) == 0;
            case DOUBLE -> kept.equals((Double) value + 0.0); // which makes zero of its negative
            case FLOAT -> kept.equals((Float) value + 0.0f);
            case BYTES -> Arrays.equals((byte[]) kept, (byte[]) value);
            default -> kept.equals(value);
        };
    }

    private Object atScale(BigDecimal value) {
        if (precision == 0) { // computed, to however many digits the database likes
            return value.setScale(scale, RoundingMode.HALF_UP);
        }
        if (value.scale() == scale) {
            return value;
        }
        if (value.signum() == 0) {
            return BigDecimal.ZERO.setScale(scale);
        }
        if (wholeDigits(value) > precision - scale) {
            return value; // it does not fit, and to write out 1E+50000000 would take minutes
        }
        return value.stripTrailingZeros().scale() <= scale ? value.setScale(scale) : value;
    }

    /** How many digits of a number stand in front of the point; below 1 where the first one comes later behind it. */
    static long wholeDigits(BigDecimal value) {
        return (long) value.precision() - value.scale();
    }
}
