package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import java.util.LinkedHashMap;
import java.util.Map;

/** The values of a column that one of another type does not keep as they are; databases round some of them in silence. */
final class Unfit extends DialectPart {
    /** Whole numbers up to these are exact in a float and in a double. */
    private static final String EXACT_IN_FLOAT = "16777216";

    private static final String EXACT_IN_DOUBLE = "9007199254740992";

    /** So many digits of a decimal are kept by a float and by a double. */
    private static final int DIGITS_OF_FLOAT = 6;

    private static final int DIGITS_OF_DOUBLE = 15;

    private final String column;
    private final ColumnType from;
    private final ColumnType to;
    private final Map<String, String> conditions = new LinkedHashMap<>();

    Unfit(Dialect dialect, String column, ColumnType from, ColumnType to) {
        super(dialect);
        this.column = column;
        this.from = from;
        this.to = to;
    }

    /** What is wrong with them, and how they are found. */
    Map<String, String> conditions() {
        if (to.kind().isText()) {
            lengths();
        } else if (from.kind().isText()) {
            texts();
        } else if (from.kind() == Kind.DATE_TIME && to.kind() == Kind.DATE) {
            conditions.put(
                    "with a time of day, which would be lost",
                    dialect.expressions().hasTimeOfDay(column));
        } else if (wholeDigits(from) > 0) {
            numbers(from.kind() == Kind.DOUBLE || from.kind() == Kind.FLOAT ? exact() : column, scale(from));
        }
        return conditions;
    }

    private String exact() {
        return dialect.expressions().exact(column);
    }

    private void lengths() {
        int longest = from.kind().isText() ? from.length() : 0;
        if (to.length() > 0 && (longest == 0 || longest > to.length())) {
            String text = from.kind().isText() ? column : "concat(" + column + ", '')";
            conditions.put("longer than " + to.length(), dialect.expressions().length(text) + " > " + to.length());
        }
    }

    private void texts() {
        boolean whole = to.kind().isWhole();
        String isNumber = dialect.expressions().isNumber(column, whole);
        conditions.put(whole ? "that are no whole numbers" : "that are no numbers", "not (" + isNumber + ")");
        String some = "case when " + isNumber + " then " + column + " end";
        numbers(dialect.expressions().number(some), whole ? 0 : Integer.MAX_VALUE);
    }

    private void numbers(String number, int scale) {
        int whole = wholeDigits(from);
        if (to.kind() == Kind.DECIMAL) {
            if (scale > to.scale()) {
                conditions.put(
                        "with more than " + to.scale() + " digits behind the point, and would be rounded",
                        "round(" + number + ", " + to.scale() + ") <> " + number);
            }
            if (whole > wholeDigits(to)) {
                conditions.put(
                        "with more than " + wholeDigits(to) + " digits before the point",
                        "abs(" + number + ") >= 1" + "0".repeat(wholeDigits(to)));
            }
        } else if (to.kind().isWhole()) {
            if (scale > 0) {
                conditions.put(
                        "that are no whole numbers, and would be rounded", "round(" + number + ", 0) <> " + number);
            }
            if (whole >= wholeDigits(to) && from.kind() != to.kind()) {
                conditions.put(
                        "that are too great",
                        number + " > " + greatest() + " or " + number + " < -" + greatest() + " - 1");
            }
        } else {
            inexact(number, scale, whole);
        }
    }

    private void inexact(String number, int scale, int whole) {
        boolean single = to.kind() == Kind.FLOAT;
        int digits = single ? DIGITS_OF_FLOAT : DIGITS_OF_DOUBLE;
        boolean decimal = from.kind() == Kind.DECIMAL && whole + scale > digits;
        if (from.kind() == Kind.DOUBLE && single && !dialect.type(from).equals(dialect.type(to))) {
            conditions.put("that are not exact there", "cast(" + column + " as " + dialect.type(to) + ") <> " + column);
        } else if (from.kind() != to.kind() && from.kind() != Kind.FLOAT && whole > digits) {
            String greatest = single ? EXACT_IN_FLOAT : EXACT_IN_DOUBLE;
            conditions.put("that are too great to be exact there", "abs(" + number + ") > " + greatest);
        }
        if (decimal) {
            int behind = Math.max(0, digits - whole);
            conditions.put(
                    "with more digits than are exact there", "round(" + number + ", " + behind + ") <> " + number);
        }
    }

    private String greatest() {
        return switch (to.kind()) {
            case BYTE -> String.valueOf(Byte.MAX_VALUE);
            case SHORT -> String.valueOf(Short.MAX_VALUE);
            case INTEGER -> String.valueOf(Integer.MAX_VALUE);
            default -> String.valueOf(Long.MAX_VALUE);
        };
    }

    private static int scale(ColumnType type) {
        return type.kind().isWhole() ? 0 : type.kind() == Kind.DECIMAL ? type.scale() : Integer.MAX_VALUE;
    }

    /** How many digits may stand before the point; 0 for what is no number. */
    private static int wholeDigits(ColumnType type) {
        return switch (type.kind()) {
            case BYTE -> 3;
            case SHORT -> 5;
            case INTEGER -> 10;
            case LONG -> 19;
            case DECIMAL -> type.precision() - type.scale();
            case FLOAT, DOUBLE, STRING, LONG_TEXT, ENUM, CHARACTER -> 309;
            default -> 0;
        };
    }
}
