package io.bathra.mapping;

import io.bathra.mapping.ColumnType.Kind;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/** Cuts values to what a column of a type keeps of them. */
final class Cut {
    private final ColumnType type;
    private final Kind kind;

    Cut(ColumnType type) {
        this.type = type;
        this.kind = type.kind();
    }

    /**
     * The value as the column will give it back: times cut to microseconds, decimals at the column's scale where that
     * loses nothing, zero without a sign; the character NUL, with which Java begins, as no value. Arrays are copied, so
     * that a later change of the array can be seen.
     */
    @Nullable
    Object kept(Object value) {
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

    /** Whether a kept value is what the column would keep of another one. */
    boolean same(@Nullable Object kept, @Nullable Object value) {
        if (kept == value) {
            return true;
        }
        if (kept == null || value == null) {
            return kept == null && value != null && kind == Kind.CHARACTER && value.equals('\0');
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

    /** Whether a value is of the column's class, so that it can be cut. */
    boolean takes(Object value) {
        return type.javaType().isInstance(value);
    }

    /**
     * Numbers of narrower types are taken for one of the column's where nothing is lost; anything else is left alone.
     */
    Object widened(Object value) {
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

    private Object atScale(BigDecimal value) {
        int scale = type.scale();
        if (type.precision() == 0) { // computed, to however many digits the database likes
            return value.setScale(scale, RoundingMode.HALF_UP);
        }
        if (value.scale() == scale) {
            return value;
        }
        if (value.signum() == 0) {
            return BigDecimal.ZERO.setScale(scale);
        }
        if (wholeDigits(value) > type.precision() - scale) {
            return value; // it does not fit, and to write out 1E+50000000 would take minutes
        }
        return needsMoreThan(scale, value) ? value : value.setScale(scale);
    }

    /** Whether a number has more digits behind its point than these, zeros at its end aside. */
    static boolean needsMoreThan(int scale, BigDecimal value) {
        return value.scale() > scale && value.stripTrailingZeros().scale() > scale;
    }

    /** How many digits of a number stand in front of the point; below 1 where the first one comes later behind it. */
    static long wholeDigits(BigDecimal value) {
        return (long) value.precision() - value.scale();
    }
}
