package io.bathra.jdbc;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;

/** Dates and times as text that PostgreSQL reads, whatever the year. */
final class PostgresTimes {
    private PostgresTimes() {}

    static String text(Object value) {
        StringBuilder text = new StringBuilder(32);
        if (value instanceof LocalDate date) {
            date(text, date);
            era(text, date);
        } else if (value instanceof LocalDateTime time) {
            append(text, time);
            era(text, time.toLocalDate());
        } else if (value instanceof Instant instant) {
            LocalDateTime time = instant.atOffset(ZoneOffset.UTC).toLocalDateTime();
            append(text, time);
            text.append('Z');
            era(text, time.toLocalDate());
        } else {
            Digits.time(text, (LocalTime) value);
        }
        return text.toString();
    }

    private static void append(StringBuilder text, LocalDateTime time) {
        date(text, time.toLocalDate());
        text.append('T');
        Digits.time(text, time.toLocalTime());
    }

    /** PostgreSQL has no year 0: that of ISO is its year 1 BC. */
    private static void date(StringBuilder text, LocalDate date) {
        Digits.padded(text, date.getYear() > 0 ? date.getYear() : 1 - date.getYear(), 4);
        Digits.monthAndDay(text, date);
    }

    private static void era(StringBuilder text, LocalDate date) {
        if (date.getYear() <= 0) {
            text.append(" BC");
        }
    }
}
