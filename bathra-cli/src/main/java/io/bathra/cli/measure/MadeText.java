package io.bathra.cli.measure;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.Locale;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Texts that stand for values of a type, made up from a number: the same number gives the same. */
final class MadeText {
    private static final Pattern TEXT = Pattern.compile("text(?:\\((\\d+)\\))?");
    private static final Pattern DECIMAL = Pattern.compile("decimal\\((\\d+), (\\d+)\\)");
    private static final String[] WORDS = {
        "anchor", "berth", "crane", "dock", "ebb", "fender", "gangway", "hull", "inlet", "jetty", "keel", "lock",
        "mast", "north", "ore", "pier", "quay", "rope", "sail", "tide", "unload", "vessel", "wharf", "yard"
    };
    private static final int USUAL_TEXT = 24;
    private static final int LONG_TEXT = 200;
    private static final int RADIX = 36;
    private static final int DAYS = 3_650;
    private static final int DAY_SECONDS = 86_400;

    private MadeText() {}

    /**
     * A text for a value.
     *
     * @param words the type as the model says it: {@code text(80)}, {@code decimal(6, 2)}, {@code date time}
     * @param distinct whether each number has to give another one
     * @return null where the words name no type that is known here, so that it is an enum
     */
    static @Nullable String of(String words, long number, boolean distinct) {
        Matcher text = TEXT.matcher(words);
        if (text.matches()) {
            int length = text.group(1) == null ? USUAL_TEXT : Integer.parseInt(text.group(1));
            return distinct ? name(number, length) : prose(number, Math.min(length, USUAL_TEXT));
        }
        Matcher decimal = DECIMAL.matcher(words);
        if (decimal.matches()) {
            return decimal(number, Integer.parseInt(decimal.group(1)), Integer.parseInt(decimal.group(2)));
        }
        return switch (words) {
            case "boolean" -> String.valueOf(number % 2 == 0);
            case "byte" -> String.valueOf(1 + number % 100);
            case "short" -> String.valueOf(1 + number % 30_000);
            case "integer", "long" -> String.valueOf(1 + number % Integer.MAX_VALUE);
            case "float", "double" -> String.valueOf(1 + number % 1_000_000 + 0.5);
            case "character" -> String.valueOf((char) ('A' + number % 26));
            case "long text" -> prose(number, LONG_TEXT);
            case "date" ->
                LocalDate.of(2026, 1, 1)
                        .plusDays(distinct ? number : number % DAYS)
                        .toString();
            case "time" -> LocalTime.ofSecondOfDay(number % DAY_SECONDS).toString();
            case "date time" ->
                LocalDateTime.of(2026, 1, 1, 0, 0).plusSeconds(number).toString();
            case "instant" ->
                Instant.parse("2026-01-01T00:00:00Z").plusSeconds(number).toString();
            case "uuid" -> new UUID(0x6261_7468_7261_4000L, 0x8000_0000_0000_0000L | number).toString();
            case "bytes" -> String.format(Locale.ROOT, "%016x", number);
            default -> null;
        };
    }

    /** How many distinct values there may be, as far as it matters here. */
    static long room(String words) {
        Matcher text = TEXT.matcher(words);
        if (text.matches()) {
            return text.group(1) == null ? Long.MAX_VALUE : room(RADIX, Integer.parseInt(text.group(1)));
        }
        Matcher decimal = DECIMAL.matcher(words);
        if (decimal.matches()) {
            return room(10, Integer.parseInt(decimal.group(1))) - 1;
        }
        return switch (words) {
            case "integer", "long", "date time", "instant", "uuid", "bytes" -> Integer.MAX_VALUE;
            case "date" -> 1_000_000;
            case "time" -> DAY_SECONDS;
            case "short" -> 30_000;
            default -> 0;
        };
    }

    private static long room(int radix, int places) {
        return places > 12 ? Long.MAX_VALUE : (long) Math.pow(radix, places);
    }

    private static String name(long number, int length) {
        String digits = Long.toString(number, RADIX).toUpperCase(Locale.ROOT);
        int wanted = Math.min(length, 11);
        return digits.length() >= wanted ? digits : "0".repeat(wanted - digits.length()) + digits;
    }

    private static String prose(long number, int length) {
        StringBuilder prose = new StringBuilder();
        long rest = number;
        while (prose.length() < length) {
            prose.append(prose.isEmpty() ? "" : " ").append(WORDS[(int) (rest % WORDS.length)]);
            rest = rest / WORDS.length + number + 7;
        }
        prose.setLength(length);
        int last = length - 1;
        if (prose.charAt(last) == ' ') {
            prose.setCharAt(last, 's');
        }
        return prose.toString();
    }

    private static String decimal(long number, int precision, int scale) {
        long most = (long) Math.pow(10, Math.min(precision, 15)) - 1;
        return BigDecimal.valueOf(1 + number % most, scale).toPlainString();
    }
}
