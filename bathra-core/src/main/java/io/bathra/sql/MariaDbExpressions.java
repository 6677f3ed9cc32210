package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.function.Supplier;

/** Expressions of MariaDB. */
final class MariaDbExpressions extends Expressions {
    private static final ColumnType DATE_TIME =
            ColumnType.of(LocalDateTime.class).orElseThrow();

    MariaDbExpressions(Dialect dialect) {
        super(dialect);
    }

    /** Else each assignment sees what those before it have set. */
    @Override
    String assigningAtOnce() {
        return "set statement sql_mode = 'STRICT_TRANS_TABLES,ERROR_FOR_DIVISION_BY_ZERO,SIMULTANEOUS_ASSIGNMENT' for ";
    }

    @Override
    String differ(String one, String other) {
        return "not (" + one + " <=> " + other + ")";
    }

    @Override
    String quotient(String dividend, String divisor, boolean whole) {
        return whole ? "(" + dividend + " div " + divisor + ")" : super.quotient(dividend, divisor, whole);
    }

    /** Without the cast, an average has four digits more than the number. */
    @Override
    String average(String number) {
        return "avg(cast(" + number + " as double))";
    }

    /** Its own tables of zones are empty as a rule. */
    @Override
    String inZone(String instant, ZoneId zone) {
        return "(" + instant + " + interval "
                + Offsets.seconds(
                        zone,
                        instant,
                        moment -> "'" + moment.toString().replace('T', ' ').replace("Z", "") + "'")
                + " second)";
    }

    @Override
    String ordered(Supplier<String> term, boolean descending, boolean nullsFirst) {
        String missing = term.get() + " is null" + (nullsFirst ? " desc" : "");
        return missing + ", " + term.get() + (descending ? " desc" : "");
    }

    /** As its manual has it: a number greater than any. */
    @Override
    String noLimit() {
        return " limit 18446744073709551615";
    }

    /** A text takes the collation of the columns beside it only as long as it is not cast. */
    @Override
    String constant(ColumnType type) {
        return switch (type.kind()) {
            case BOOLEAN, BYTE, SHORT, INTEGER, LONG -> "cast(? as signed)";
            case FLOAT, DOUBLE -> "cast(? as double)";
            case CHARACTER, STRING, LONG_TEXT, ENUM -> "?";
            case UUID -> "cast(? as binary(16))";
            case BYTES -> "cast(? as binary)";
            default -> "cast(? as " + dialect.type(type) + ")";
        };
    }

    @Override
    String noNumber() {
        return "cast(null as signed)";
    }

    /** A backslash in a text would begin an escape. */
    @Override
    String literal(ColumnType type, Object value) {
        return switch (type.kind()) {
            case INSTANT -> super.literal(DATE_TIME, LocalDateTime.ofInstant((Instant) value, ZoneOffset.UTC));
            case UUID -> "x'" + value.toString().replace("-", "") + "'";
            default -> super.literal(type, value).replace("\\", "\\\\");
        };
    }

    @Override
    String isNumber(String text, boolean whole) {
        return text + " regexp " + numberPattern(whole);
    }
}
