package io.bathra.evolve;

import io.bathra.history.Nearest;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;

/** Types of columns in the words of a file: {@code text 80}, {@code decimal 12 2}, {@code date}. */
final class TypeWords {
    private static final Map<String, Class<?>> PLAIN = new LinkedHashMap<>();

    static {
        PLAIN.put("boolean", Boolean.class);
        PLAIN.put("byte", Byte.class);
        PLAIN.put("short", Short.class);
        PLAIN.put("integer", Integer.class);
        PLAIN.put("long", Long.class);
        PLAIN.put("float", Float.class);
        PLAIN.put("double", Double.class);
        PLAIN.put("character", Character.class);
        PLAIN.put("date", LocalDate.class);
        PLAIN.put("time", LocalTime.class);
        PLAIN.put("date time", LocalDateTime.class);
        PLAIN.put("instant", Instant.class);
        PLAIN.put("uuid", UUID.class);
        PLAIN.put("bytes", byte[].class);
    }

    private static final String LONG_TEXT = "long text";
    private static final String TEXT = "text";
    private static final String CHOICE = "choice";
    private static final String DECIMAL = "decimal";
    private static final int MOST_DIGITS = 1_000;

    private TypeWords() {}

    static String of(ColumnType type) {
        return switch (type.kind()) {
            case STRING -> type.length() == 0 ? TEXT : TEXT + " " + type.length();
            case ENUM -> CHOICE + " " + type.length();
            case DECIMAL -> DECIMAL + " " + type.precision() + " " + type.scale();
            case LONG_TEXT -> LONG_TEXT;
            default ->
                PLAIN.entrySet().stream()
                        .filter(one -> one.getValue() == type.javaType())
                        .map(Map.Entry::getKey)
                        .findFirst()
                        .orElseThrow(() -> new IllegalStateException("no word for " + type));
        };
    }

    static ColumnType read(Tree tree) {
        String words = Lines.leaf(tree, "a type").text().trim();
        Class<?> plain = PLAIN.get(words);
        if (plain != null) {
            return ColumnType.of(plain).orElseThrow();
        } else if (words.equals(LONG_TEXT)) {
            return ColumnType.text(0).asLongText();
        } else if (words.equals(TEXT)) {
            return ColumnType.text(0);
        }
        List<String> parts = List.of(words.split(" +"));
        return switch (parts.get(0)) {
            case TEXT -> ColumnType.text(number(tree, parts, 1, 1));
            case CHOICE -> new ColumnType(Kind.ENUM, Enum.class, number(tree, parts, 1, 1), 0, 0);
            case DECIMAL -> {
                int precision = number(tree, parts, 1, 2);
                int scale = number(tree, parts, 2, 2);
                if (precision < 1 || precision > MOST_DIGITS || scale > precision) {
                    throw new Misread(
                            tree,
                            "'" + words + "' has " + scale + " of " + precision
                                    + " digits behind the point; write the digits in all, and those behind the point");
                }
                yield ColumnType.of(BigDecimal.class).orElseThrow().withDigits(precision, scale);
            }
            default -> throw unknown(tree, words);
        };
    }

    private static Misread unknown(Tree tree, String words) {
        List<String> known = new ArrayList<>(PLAIN.keySet());
        known.addAll(List.of("text 80", LONG_TEXT, "choice 12", "decimal 12 2"));
        return new Misread(
                tree,
                "there is no type '" + words + "'"
                        + Nearest.to(words, known)
                                .map(one -> "; did you mean '" + one + "'?")
                                .orElse("; there is " + String.join(", ", known)));
    }

    private static int number(Tree tree, List<String> parts, int place, int wanted) {
        try {
            if (parts.size() == wanted + 1) {
                int number = Integer.parseInt(parts.get(place));
                if (number >= 0) {
                    return number;
                }
            }
        } catch (NumberFormatException e) {
            // told below
        }
        throw new Misread(
                tree,
                "'" + String.join(" ", parts) + "' is no type; write "
                        + (wanted == 2 ? "'decimal 12 2'" : "'" + parts.get(0) + " 80'"));
    }
}
