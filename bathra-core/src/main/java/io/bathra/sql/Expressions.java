package io.bathra.sql;

import io.bathra.answer.Locking;
import io.bathra.mapping.ColumnType;
import io.bathra.question.SearchCondition.Like;
import io.bathra.question.Term;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.Collections;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.OptionalInt;
import java.util.StringJoiner;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/**
 * Conditions, values, orderings, slices and locks as this database writes them. What most databases understand stands
 * here.
 */
public abstract class Expressions extends DialectPart {
    /** Longer lists are rare, and filling them up might pass the greatest number of placeholders. */
    private static final int MOST_FILLED = 8192;

    Expressions(Dialect dialect) {
        super(dialect);
    }

    /** Whether a recursive query comes to an end when the rows lead back to where it has been. */
    boolean endsRecursion() {
        return true;
    }

    // ---- updates

    /** A computed value as a column of a type is to keep it. */
    String assigned(ColumnType type, String value) {
        return value;
    }

    /** What stands before an update whose new values are all made of the old ones. */
    String assigningAtOnce() {
        return "";
    }

    // ---- conditions

    /** Whether two values differ, or two lists of them; what is missing on both sides is the same. */
    String differ(String one, String other) {
        return one + " is distinct from " + other;
    }

    /** Whether a column has one of these values. */
    final String oneOf(String column, ColumnType type, List<?> values, List<SqlText.Param> params) {
        if (values.size() == 1) {
            params.add(new SqlText.Value(type, values.get(0)));
            return column + " = ?";
        }
        return oneOfSeveral(column, type, values, params);
    }

    String oneOfSeveral(String column, ColumnType type, List<?> values, List<SqlText.Param> params) {
        return list(column, type, values, params);
    }

    /**
     * Whether several columns together have one of these combinations of values.
     *
     * @param tuples each with a value for each column
     */
    final String oneOf(
            List<String> columns, List<ColumnType> types, List<List<Object>> tuples, List<SqlText.Param> params) {
        if (tuples.size() == 1) {
            StringJoiner same = new StringJoiner(" and ", "(", ")");
            for (int i = 0; i < types.size(); i++) {
                same.add(columns.get(i) + " = ?");
                params.add(new SqlText.Value(types.get(i), tuples.get(0).get(i)));
            }
            return same.toString();
        }
        return oneOfSeveral(columns, types, tuples, params);
    }

    String oneOfSeveral(
            List<String> columns, List<ColumnType> types, List<List<Object>> tuples, List<SqlText.Param> params) {
        String tuple = "(" + Dialect.placeholders(columns.size()) + ")";
        for (List<Object> values : tuples) {
            for (int i = 0; i < types.size(); i++) {
                params.add(new SqlText.Value(types.get(i), values.get(i)));
            }
        }
        return "(" + String.join(", ", columns) + ") in (" + tuplesBefore()
                + String.join(", ", Collections.nCopies(tuples.size(), tuple)) + ")";
    }

    /** What stands before a list of tuples. */
    String tuplesBefore() {
        return "";
    }

    /**
     * The pattern of a text that has a part at its start, its end or anywhere; one of the user's own as this database
     * has it.
     */
    String pattern(Like.Kind kind, String part) {
        String escaped = kind == Like.Kind.PATTERN
                ? part
                : part.replace("!", "!!").replace("%", "!%").replace("_", "!_");
        return kind.pattern(escaped, "%");
    }

    /** Whether a text fits a pattern; case counts. */
    String like(String text, String pattern) {
        return text + " like " + pattern + " escape '!'";
    }

    /** What asks for the plan of the statement behind it. */
    public String explain() {
        return "explain ";
    }

    /** A plan without the values that it was made for. */
    public String planWithoutValues(String plan) {
        return plan;
    }

    // ---- computed values

    /** How many characters a text has. */
    String length(String text) {
        return "char_length(" + text + ")";
    }

    /** A quotient whose divisor is null in place of zero. */
    String quotient(String dividend, String divisor, boolean whole) {
        return "(" + dividend + " / " + divisor + ")";
    }

    /** The average as a floating-point number. */
    String average(String number) {
        return "avg(cast(" + number + " as double precision))";
    }

    /** A part of a date, time or date-time as a whole number. */
    String timePart(Term.Part part, String time) {
        return "extract(" + part.name().toLowerCase(Locale.ROOT) + " from " + time + ")";
    }

    /** An instant as a date-time in a zone. */
    abstract String inZone(String instant, ZoneId zone);

    /**
     * An ordering term.
     *
     * @param term writes it; each time its values are bound once more
     */
    String ordered(Supplier<String> term, boolean descending, boolean nullsFirst) {
        return term.get() + (descending ? " desc" : "") + (nullsFirst ? " nulls first" : " nulls last");
    }

    /** A list of placeholders; long ones are filled up to a power of two, so that few shapes have to be compiled. */
    final String list(String column, ColumnType type, List<?> values, List<SqlText.Param> params) {
        boolean filled = values.size() > 8 && values.size() <= MOST_FILLED;
        int length = filled ? Integer.highestOneBit(values.size() - 1) * 2 : values.size();
        for (int i = 0; i < length; i++) {
            params.add(new SqlText.Value(type, values.get(Math.min(i, values.size() - 1))));
        }
        return column + " in (" + String.join(", ", Collections.nCopies(length, placeholder(type))) + ")";
    }

    /** What stands for a value that is bound. */
    String placeholder(ColumnType type) {
        return "?";
    }

    /** What stands for a value that is bound where nothing but itself tells its type; texts are as long as they are. */
    String constant(ColumnType type) {
        boolean text = type.kind() == ColumnType.Kind.STRING
                || type.kind() == ColumnType.Kind.ENUM
                || type.kind() == ColumnType.Kind.CHARACTER;
        return "cast(" + placeholder(type) + " as " + dialect.type(text ? ColumnType.text(0) : type) + ")";
    }

    /** More rows behind those of a select, each given as its values. */
    String andRows(List<String> rows) {
        return rows.stream().map(row -> " union all select " + row).collect(Collectors.joining());
    }

    /** A whole number that is missing. */
    String noNumber() {
        return "cast(null as integer)";
    }

    /** A value as it stands in SQL text, for the few places where it cannot be bound. */
    String literal(ColumnType type, Object value) {
        return switch (type.kind()) {
            case BOOLEAN, BYTE, SHORT, INTEGER, LONG, FLOAT, DOUBLE -> value.toString();
            case DECIMAL -> ((BigDecimal) value).toPlainString();
            case ENUM -> textLiteral(value instanceof Enum<?> constant ? constant.name() : value.toString());
            case CHARACTER, STRING, LONG_TEXT -> textLiteral(value.toString());
            case DATE -> "date " + textLiteral(value.toString());
            case TIME -> "time " + textLiteral(value.toString());
            case DATE_TIME -> "timestamp " + textLiteral(value.toString().replace('T', ' '));
            case INSTANT ->
                "timestamp with time zone "
                        + textLiteral(LocalDateTime.ofInstant((Instant) value, ZoneOffset.UTC)
                                        .toString()
                                        .replace('T', ' ')
                                + "+00");
            case UUID -> "uuid " + textLiteral(value.toString());
            case BYTES -> bytes((byte[]) value);
        };
    }

    /** Bytes as they stand in SQL text. */
    String bytes(byte[] value) {
        return "x'" + HexFormat.of().formatHex(value) + "'";
    }

    /** Whether a text is a number as it would be written back: without a plus, leading zeros, or blanks. */
    abstract String isNumber(String text, boolean whole);

    /** A number out of a text that is one. */
    String number(String text) {
        return "cast(" + text + " as decimal(38, 12))";
    }

    /** Whether a date-time is not at midnight. */
    String hasTimeOfDay(String time) {
        return time + " <> cast(" + time + " as date)";
    }

    /** A double as an exact number. */
    String exact(String number) {
        return number;
    }

    static String numberPattern(boolean whole) {
        return "'^-?(0|[1-9][0-9]*)" + (whole ? "" : "([.][0-9]+)?") + "$'";
    }

    /** What takes a part of the answer only. */
    final String slice(OptionalInt limit, int offset) {
        String rows = limit.isPresent() ? " limit " + limit.getAsInt() : offset > 0 ? noLimit() : "";
        return rows + (offset > 0 ? " offset " + offset : "");
    }

    /** What has to stand before an offset where there is no limit. */
    String noLimit() {
        return "";
    }

    /** Whether rows without a value come first when nothing is said. */
    boolean putsNullsFirst(boolean descending) {
        return !descending;
    }

    /**
     * What follows a select so that its rows are held.
     *
     * @param alias what the select calls the table of these rows
     */
    String locking(Locking othersRows, String alias) {
        return " for update" + heldAlone(alias)
                + switch (othersRows) {
                    case WAIT -> "";
                    case NO_WAIT -> " nowait";
                    case SKIP_LOCKED -> " skip locked";
                };
    }

    /** What says that the rows of one table alone are held, where others are joined to it. */
    String heldAlone(String alias) {
        return "";
    }

    /** What follows a select so that it reads what is there now, and holds it. */
    public String lockingRead() {
        return " for update";
    }
}
