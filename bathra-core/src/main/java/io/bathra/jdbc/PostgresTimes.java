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
        if (value instanceof LocalDate date) {
            return date(date) + era(date);
        }
        if (value instanceof LocalDateTime time) {
            return date(time.toLocalDate()) + "T" + time.toLocalTime() + era(time.toLocalDate());
        }
        if (value instanceof Instant instant) {
            LocalDateTime time = instant.atOffset(ZoneOffset.UTC).toLocalDateTime();
            return date(time.toLocalDate()) + "T" + time.toLocalTime() + "Z" + era(time.toLocalDate());
        }
        return ((LocalTime) value).toString();
    }

    /** PostgreSQL has no year 0: that of ISO is its year 1 BC. */
    private static String date(LocalDate date) {
        int year = date.getYear() > 0 ? date.getYear() : 1 - date.getYear();
        return String.format("%04d-%02d-%02d", year, date.getMonthValue(), date.getDayOfMonth());
    }

    private static String era(LocalDate date) {
        return date.getYear() > 0 ? "" : " BC";
    }
}
