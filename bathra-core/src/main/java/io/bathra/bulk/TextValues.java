package io.bathra.bulk;

import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.mapping.ColumnType;
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

/** Makes values of columns out of texts, as files have them. */
final class TextValues {
    private TextValues() {}

    /**
     * The value that a text stands for, in the form in which a column keeps it.
     *
     * @throws UnreadableText with what the text should be, when it is no such value
     */
    static Object parse(ColumnType type, String text) {
        return switch (type.kind()) {
            case BOOLEAN -> truth(text);
            case BYTE -> parsed(text, Byte::valueOf, "a whole number from -128 to 127");
            case SHORT -> parsed(text, Short::valueOf, "a whole number from -32768 to 32767");
            case INTEGER -> parsed(text, Integer::valueOf, "a whole number of 32 bits, such as 42");
            case LONG -> parsed(text, Long::valueOf, "a whole number, such as 42");
            case FLOAT -> parsed(text, Float::valueOf, "a number, such as 12.5");
            case DOUBLE -> parsed(text, Double::valueOf, "a number, such as 12.5");
            case DECIMAL -> parsed(text, BigDecimal::new, "a decimal number, such as 12.5");
            case CHARACTER -> parsed(text, TextValues::character, "a single character");
            case STRING, LONG_TEXT -> text;
            case ENUM -> constant(type.javaType(), text);
            case DATE -> parsed(text, LocalDate::parse, "a date, such as 2026-04-01");
            case TIME -> parsed(text, LocalTime::parse, "a time, such as 06:30");
            case DATE_TIME ->
                parsed(text.replace(' ', 'T'), LocalDateTime::parse, "a date and time, such as 2026-04-01T06:30");
            case INSTANT -> parsed(text, Instant::parse, "a moment with its zone, such as 2026-04-01T06:30:00Z");
            case UUID -> parsed(text, UUID::fromString, "a UUID");
            case BYTES -> parsed(text, HexFormat.of()::parseHex, "bytes in hexadecimal digits, such as 00ff");
        };
    }

    private static Object parsed(String text, Function<String, Object> parse, String expected) {
        try {
            return parse.apply(text);
        } catch (RuntimeException e) {
            throw new UnreadableText(Flaw.of(Code.UNREADABLE, "is not " + expected, expected));
        }
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

    private static Object constant(Class<?> type, String text) {
        for (Object constant : type.getEnumConstants()) {
            if (((Enum<?>) constant).name().equals(text)) {
                return constant;
            }
        }
        String names = Arrays.stream(type.getEnumConstants())
                .map(constant -> ((Enum<?>) constant).name())
                .collect(Collectors.joining(", "));
        throw new UnreadableText(Flaw.of(Code.NOT_AMONG, "is none of " + names, names));
    }
}
