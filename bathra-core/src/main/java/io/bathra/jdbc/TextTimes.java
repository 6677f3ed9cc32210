package io.bathra.jdbc;

import io.bathra.mapping.ColumnType;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;

/**
 * Dates and times as text with six digits of fractions, for databases that keep them so or whose driver would move them
 * into the zone of the JVM.
 */
final class TextTimes {
    private final char separator;
    private final String zone;

    /**
     * @param separator what stands between date and time
     * @param zone what follows an instant in UTC
     */
    TextTimes(char separator, String zone) {
        this.separator = separator;
        this.zone = zone;
    }

    /** Whether values of this type go as text. */
    static boolean covers(ColumnType type) {
        return switch (type.kind()) {
            case DATE, TIME, DATE_TIME, INSTANT -> true;
            default -> false;
        };
    }

    String text(Object value) {
        StringBuilder text = new StringBuilder(32);
        if (value instanceof LocalTime time) {
            Digits.time(text, time);
        } else if (value instanceof LocalDateTime time) {
            append(text, time);
        } else if (value instanceof Instant instant) {
            append(text, LocalDateTime.ofInstant(instant, ZoneOffset.UTC));
            text.append(zone);
        } else {
            date(text, (LocalDate) value);
        }
        return text.toString();
    }

    private void append(StringBuilder text, LocalDateTime time) {
        date(text, time.toLocalDate());
        text.append(separator);
        Digits.time(text, time.toLocalTime());
    }

    private static void date(StringBuilder text, LocalDate date) {
        if (date.getYear() < 0 || date.getYear() > 9999) {
            text.append(date);
            return;
        }
        Digits.padded(text, date.getYear(), 4);
        Digits.monthAndDay(text, date);
    }

    Object value(ColumnType type, String text) {
        return switch (type.kind()) {
            case DATE -> LocalDate.parse(text);
            case TIME -> LocalTime.parse(text);
            case DATE_TIME -> dateTime(text);
            case INSTANT ->
                dateTime(text.substring(0, text.length() - zone.length())).toInstant(ZoneOffset.UTC);
            default -> throw new IllegalArgumentException(type.kind() + " is no date or time");
        };
    }

    private LocalDateTime dateTime(String text) {
        return LocalDateTime.parse(text.replace(separator, 'T'));
    }
}
