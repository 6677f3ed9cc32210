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
        return (year < 10_000 ? padded(year, 4) : String.valueOf(year)) + "-" + padded(date.getMonthValue(), 2) + "-"
                + padded(date.getDayOfMonth(), 2);
    }

    /** By hand, since a format is parsed anew for each of many dates. */
    private static String padded(int number, int digits) {
        String plain = Integer.toString(number);
        return "0".repeat(Math.max(0, digits - plain.length())) + plain;
    }

    private static String era(LocalDate date) {
        return date.getYear() > 0 ? "" : " BC";
    }
}
