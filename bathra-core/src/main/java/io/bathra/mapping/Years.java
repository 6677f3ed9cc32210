package io.bathra.mapping;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import org.jspecify.annotations.Nullable;

/**
 * The years that a database keeps in dates and times, all of them whole.
 *
 * @param first counted as ISO does, with a year 0
 */
public record Years(int first, int last) {
    /** A second of a year is a second of one of these, which are all of the same length on average. */
    private static final long SECONDS = 31_556_952;

    /** What is wrong with a value, without advice; null when nothing is, or when it is no date. */
    public @Nullable String misfit(Object value) {
        if (value instanceof LocalDate date) {
            return misfit(date.getYear());
        } else if (value instanceof LocalDateTime time) {
            return misfit(time.getYear());
        }
        return value instanceof Instant moment ? misfit(yearOf(moment)) : null;
    }

    /** The earliest and the latest moments have years that no date has. */
    private static int yearOf(Instant moment) {
        boolean ordinary = Math.abs(moment.getEpochSecond() / SECONDS) < 950_000_000;
        return ordinary
                ? LocalDateTime.ofInstant(moment, ZoneOffset.UTC).getYear()
                : 1970 + (int) (moment.getEpochSecond() / SECONDS);
    }

    private @Nullable String misfit(int year) {
        return year < first || year > last
                ? "is of the year " + year + ", but this database keeps those from " + first + " to " + last
                : null;
    }

    /** Whether a value that was read is one that could have been stored. */
    public boolean has(Object value) {
        return misfit(value) == null;
    }
}
