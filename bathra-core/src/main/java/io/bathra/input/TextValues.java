package io.bathra.input;

import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.UUID;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Makes values of columns out of texts, as files, forms and JSON have them, and the other way round. */
public final class TextValues {
    /** No number, date or word is as long; to look at a million digits would take minutes. */
    private static final int LONGEST = 10_000;

    private static final int UUID_LENGTH = 36;

    /** Beyond so many zeros a decimal is written with an exponent. */
    private static final int MOST_ZEROS = 1_000;

    /** Up to so many zeros behind its point a decimal has no exponent anyway, and remembers its text. */
    private static final int MOST_LEADING_ZEROS = 5;

    private TextValues() {}

    /**
     * The value that a text stands for, in the form in which a column keeps it.
     *
     * @throws UnreadableText with what the text should be, when it is no such value
     */
    public static Object parse(ColumnType type, String text) {
        return switch (type.kind()) {
            case BOOLEAN -> truth(text);
            case BYTE -> whole(text, Byte::valueOf, Byte.MIN_VALUE, Byte.MAX_VALUE);
            case SHORT -> whole(text, Short::valueOf, Short.MIN_VALUE, Short.MAX_VALUE);
            case INTEGER -> whole(text, Integer::valueOf, Integer.MIN_VALUE, Integer.MAX_VALUE);
            case LONG -> whole(text, Long::valueOf, Long.MIN_VALUE, Long.MAX_VALUE);
            case FLOAT -> parsed(digits(text), Float::valueOf, "number", "a number, such as 12.5");
            case DOUBLE -> parsed(digits(text), Double::valueOf, "number", "a number, such as 12.5");
            case DECIMAL -> parsed(text, BigDecimal::new, "decimal", "a decimal number, such as 12.5");
            case CHARACTER -> parsed(text, TextValues::character, "character", "a single character");
            case STRING, LONG_TEXT -> text;
            case ENUM -> constant(type.javaType(), text);
            case DATE -> parsed(text, LocalDate::parse, "date", "a date, such as 2026-04-01");
            case TIME -> parsed(text, LocalTime::parse, "time", "a time, such as 06:30");
            case DATE_TIME ->
                parsed(
                        text.replace(' ', 'T'),
                        LocalDateTime::parse,
                        "date-time",
                        "a date and time, such as 2026-04-01T06:30");
            case INSTANT ->
                parsed(text, Instant::parse, "instant", "a moment with its zone, such as 2026-04-01T06:30:00Z");
            case UUID -> parsed(text, TextValues::uuid, "uuid", "a UUID");
            case BYTES -> bytes(text);
        };
    }

    /** The text of a value in stored form, from which {@link #parse} makes an equal one. */
    public static String text(Object value) {
        if (value instanceof BigDecimal decimal) {
            boolean plain = decimal.scale() >= 0 && decimal.precision() - decimal.scale() > -MOST_LEADING_ZEROS;
            return plain || Math.abs((long) decimal.scale()) > MOST_ZEROS
                    ? decimal.toString()
                    : decimal.toPlainString();
        } else if (value instanceof byte[] bytes) {
            return HexFormat.of().formatHex(bytes);
        }
        return value instanceof Enum<?> constant ? constant.name() : value.toString();
    }

    /** Whether a text may have blanks around it that mean nothing. */
    public static boolean isFreeOfBlanks(Kind kind) {
        return kind != Kind.STRING && kind != Kind.LONG_TEXT && kind != Kind.CHARACTER;
    }

    private static Object parsed(String text, Function<String, Object> parse, String kind, String expected) {
        try {
            if (text.length() <= LONGEST) {
                return parse.apply(text);
            }
        } catch (UnreadableText e) {
            throw e;
        } catch (RuntimeException e) {
            // told below, in our words
        }
        throw new UnreadableText(Flaw.of(Code.UNREADABLE, "is not " + expected, kind));
    }

    private static Object whole(String text, Function<String, Object> parse, long least, long greatest) {
        return parsed(
                text,
                whole -> isWhole(whole) ? inRange(whole, parse, least, greatest) : parse.apply(whole),
                "whole",
                "a whole number, such as 42");
    }

    private static Object inRange(String text, Function<String, Object> parse, long least, long greatest) {
        try {
            return parse.apply(text);
        } catch (NumberFormatException e) {
            String expected = "is not from " + least + " to " + greatest + ", which is what the column keeps";
            throw new UnreadableText(Flaw.of(Code.OUT_OF_RANGE, expected, least, greatest));
        }
    }

    private static boolean isWhole(String text) {
        int from = text.startsWith("-") || text.startsWith("+") ? 1 : 0;
        for (int i = from; i < text.length(); i++) {
            if (text.charAt(i) < '0' || text.charAt(i) > '9') {
                return false;
            }
        }
        return text.length() > from;
    }

    /** A text of which Java would make a number though it names a type, is hexadecimal, or no number at all. */
    private static String digits(String text) {
        for (int i = 0; i < text.length(); i++) {
            char one = text.charAt(i);
            if ((one < '0' || one > '9') && "+-.eE".indexOf(one) < 0) {
                return "";
            }
        }
        return text;
    }

    private static Object bytes(String text) {
        try {
            return HexFormat.of().parseHex(text);
        } catch (IllegalArgumentException e) {
            throw new UnreadableText(
                    Flaw.of(Code.UNREADABLE, "is not bytes in hexadecimal digits, such as 00ff", "bytes"));
        }
    }

    private static Object uuid(String text) {
        if (text.length() != UUID_LENGTH) {
            throw new IllegalArgumentException();
        }
        return UUID.fromString(text);
    }

    private static Object truth(String text) {
        if (text.equalsIgnoreCase("true") || text.equalsIgnoreCase("false")) {
            return text.equalsIgnoreCase("true");
        }
        throw new UnreadableText(Flaw.of(Code.NOT_AMONG, "is neither true nor false", "true, false"));
    }

    private static Object character(String text) {
        if (text.length() != 1) {
            throw new IllegalArgumentException();
        }
        return text.charAt(0);
    }

    @SuppressWarnings({"unchecked", "rawtypes"}) // the column keeps constants of this class
    private static Object constant(Class<?> type, String text) {
        try {
            return Enum.valueOf((Class) type, text);
        } catch (IllegalArgumentException e) {
            throw notAmong(type.getEnumConstants());
        }
    }

    private static UnreadableText notAmong(Object[] constants) {
        String names = Arrays.stream(constants)
                .map(constant -> ((Enum<?>) constant).name())
                .collect(Collectors.joining(", "));
        return new UnreadableText(Flaw.of(Code.NOT_AMONG, "is none of " + names, names));
    }
}
