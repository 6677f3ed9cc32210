package io.bathra.jdbc;

import io.bathra.model.ColumnType;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.temporal.ChronoField;

/**
 * Dates and times as text with six digits of fractions, for databases that keep them so or whose driver would move them
 * into the zone of the JVM.
 */
final class TextTimes {
    private static final DateTimeFormatter TIME = new DateTimeFormatterBuilder()
            .appendPattern("HH:mm:ss")
            .appendFraction(ChronoField.MICRO_OF_SECOND, 6, 6, true)
            .toFormatter();

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
        if (value instanceof LocalTime time) {
            return TIME.format(time);
        }
        if (value instanceof LocalDateTime time) {
            return time.toLocalDate().toString() + separator + TIME.format(time.toLocalTime());
        }
        if (value instanceof Instant instant) {
            return text(LocalDateTime.ofInstant(instant, ZoneOffset.UTC)) + zone;
        }
        return value.toString();
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
