package io.bathra.jdbc;

import java.time.LocalDate;
import java.time.LocalTime;

/** Dates and times in digits, written by hand: a formatter costs as much as everything else that is done with a row. */
final class Digits {
    private Digits() {}

    /** Appends a number of at least so many digits. */
    static void padded(StringBuilder text, int number, int digits) {
        for (int least = power(digits - 1); least > 1 && number < least; least /= 10) {
            text.append('0');
        }
        text.append(number);
    }

    private static int power(int exponent) {
        int power = 1;
        for (int i = 0; i < exponent; i++) {
            power *= 10;
        }
        return power;
    }

    /** Appends {@code -MM-dd}. */
    static void monthAndDay(StringBuilder text, LocalDate date) {
        text.append('-');
        padded(text, date.getMonthValue(), 2);
        text.append('-');
        padded(text, date.getDayOfMonth(), 2);
    }

    /** Appends {@code HH:mm:ss.SSSSSS}. */
    static void time(StringBuilder text, LocalTime time) {
        padded(text, time.getHour(), 2);
        text.append(':');
        padded(text, time.getMinute(), 2);
        text.append(':');
        padded(text, time.getSecond(), 2);
        text.append('.');
        padded(text, time.getNano() / 1000, 6);
    }
}
