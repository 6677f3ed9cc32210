package io.bathra.sql;

import io.bathra.answer.Locking;
import io.bathra.error.BathraException;
import io.bathra.mapping.ColumnType;
import io.bathra.question.SearchCondition.Like;
import io.bathra.question.Term;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;

/** Expressions of SQLite. */
final class SqliteExpressions extends Expressions {
    private static final DateTimeFormatter MICROS = DateTimeFormatter.ofPattern("HH:mm:ss.SSSSSS");

    /** In bytes; its own limit, which only who compiles it can raise. */
    private static final int LONGEST_PATTERN = 50_000;

    SqliteExpressions(Dialect dialect) {
        super(dialect);
    }

    /** No more than 500 selects stand in one statement, but any number of rows. */
    @Override
    String andRows(List<String> rows) {
        return rows.isEmpty() ? "" : " union all values (" + String.join("), (", rows) + ")";
    }

    /** A decimal column keeps as many digits as it is given. */
    @Override
    String assigned(ColumnType type, String value) {
        return type.kind() == ColumnType.Kind.DECIMAL ? "round(" + value + ", " + type.scale() + ")" : value;
    }

    @Override
    String differ(String one, String other) {
        return one + " is not " + other;
    }

    @Override
    public String explain() {
        return "explain query plan ";
    }

    /** The driver binds decimals as texts, which only a column would take for numbers. */
    @Override
    String placeholder(ColumnType type) {
        return type.kind() == ColumnType.Kind.DECIMAL ? "cast(? as numeric)" : "?";
    }

    /** Whoever writes holds the whole database. */
    @Override
    String locking(Locking othersRows, String alias) {
        return "";
    }

    /** Who has begun a transaction holds the only write lock. */
    @Override
    public String lockingRead() {
        return "";
    }

    @Override
    String noLimit() {
        return " limit -1";
    }

    @Override
    String tuplesBefore() {
        return "values ";
    }

    /** Booleans are numbers, dates and times are text with six digits of fractions. */
    @Override
    String literal(ColumnType type, Object value) {
        return switch (type.kind()) {
            case BOOLEAN -> Boolean.TRUE.equals(value) ? "1" : "0";
            case DATE -> textLiteral(value.toString());
            case TIME -> textLiteral(MICROS.format((LocalTime) value));
            case DATE_TIME -> {
                LocalDateTime time = (LocalDateTime) value;
                yield textLiteral(time.toLocalDate() + "T" + MICROS.format(time.toLocalTime()));
            }
            case INSTANT -> {
                LocalDateTime time = LocalDateTime.ofInstant((Instant) value, ZoneOffset.UTC);
                yield textLiteral(time.toLocalDate() + "T" + MICROS.format(time.toLocalTime()) + "Z");
            }
            case UUID -> "x'" + value.toString().replace("-", "") + "'";
            default -> super.literal(type, value);
        };
    }

    /** There are no regular expressions. */
    @Override
    String isNumber(String text, boolean whole) {
        String digits = "case when substr(" + text + ", 1, 1) = '-' then substr(" + text + ", 2) else " + text + " end";
        String no = " glob '*[^0-9" + (whole ? "" : ".") + "]*'";
        return "(" + digits + ") <> '' and not (" + digits + ")" + no + " and not (" + digits + ") glob '0[0-9]*'"
                + (whole
                        ? ""
                        : " and not (" + digits + ") glob '*.*.*' and not (" + digits + ") glob '.*' and not (" + digits
                                + ") glob '*.'");
    }

    @Override
    String number(String text) {
        return "cast(" + text + " as numeric)";
    }

    /** It is kept as a text. */
    @Override
    String hasTimeOfDay(String time) {
        return "substr(" + time + ", 12) not in ('', '00:00:00.000000')";
    }

    /** SQLite's LIKE takes ASCII capitals and small letters for the same; GLOB does not. */
    @Override
    String like(String text, String pattern) {
        return text + " glob " + pattern;
    }

    @Override
    String pattern(Like.Kind kind, String part) {
        String pattern = glob(kind, part);
        int bytes = pattern.getBytes(StandardCharsets.UTF_8).length;
        if (bytes > LONGEST_PATTERN) {
            throw new BathraException("the text to look for makes a pattern of " + bytes + " bytes, but SQLite takes "
                    + LONGEST_PATTERN + "; look for a shorter part of it");
        }
        return pattern;
    }

    private static String glob(Like.Kind kind, String part) {
        if (kind != Like.Kind.PATTERN) {
            return kind.pattern(part.replaceAll("[*?\\[]", "[$0]"), "*");
        }
        StringBuilder glob = new StringBuilder();
        for (int i = 0; i < part.length(); i++) {
            char c = part.charAt(i);
            if (c == '!' && i + 1 < part.length()) {
                c = part.charAt(++i);
            } else if (c == '%' || c == '_') {
                glob.append(c == '%' ? '*' : '?');
                continue;
            }
            glob.append(c == '*' || c == '?' || c == '[' ? "[" + c + "]" : String.valueOf(c));
        }
        return glob.toString();
    }

    @Override
    String length(String text) {
        return "length(" + text + ")";
    }

    @Override
    String average(String number) {
        return "avg(" + number + ")";
    }

    /** Dates and times are texts of fixed widths. */
    @Override
    String timePart(Term.Part part, String time) {
        String format = switch (part) {
            case YEAR -> "%Y";
            case MONTH -> "%m";
            case DAY -> "%d";
            case HOUR -> "%H";
            case MINUTE -> "%M";
            case SECOND -> "%S";
        };
        return "cast(strftime('" + format + "', " + time + ") as integer)";
    }

    @Override
    String inZone(String instant, ZoneId zone) {
        return "datetime(" + instant + ", "
                + Offsets.seconds(
                        zone, instant, moment -> "'" + moment.toString().replace("Z", ".000000Z") + "'")
                + " || ' seconds')";
    }
}
