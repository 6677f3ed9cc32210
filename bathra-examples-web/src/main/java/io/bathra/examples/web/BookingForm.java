package io.bathra.examples.web;

import java.time.DateTimeException;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * What somebody has typed.
 *
 * @param shown what the form had shown before, so that a lost race can say what was read; null where nobody tells
 */
record BookingForm(
        @Nullable String number,
        @Nullable String vessel,
        @Nullable String berth,
        @Nullable String eta,
        @Nullable String draughtCentimetres,
        @Nullable String remark,
        @Nullable Map<String, @Nullable String> shown) {

    /** What the form had shown in a field. */
    @Nullable
    String shown(@Nullable String field) {
        return shown == null ? null : shown.get(field);
    }

    /** The same as values; each component goes to the attribute of its name. */
    record Values(
            @Nullable String number,
            @Nullable String vessel,
            @Nullable String berth,
            @Nullable LocalDateTime eta,
            @Nullable Integer draughtCentimetres,
            @Nullable String remark) {}

    /**
     * The values, as far as the texts are any.
     *
     * @param problems what is said of the others
     */
    Values values(List<FieldProblem> problems) {
        return new Values(
                text(number),
                text(vessel),
                text(berth),
                read("eta", eta, LocalDateTime::parse, "a date and time such as 2026-04-01T06:30", problems),
                read("draughtCentimetres", draughtCentimetres, Integer::valueOf, "a whole number", problems),
                text(remark));
    }

    private static @Nullable String text(@Nullable String typed) {
        return typed == null || typed.isBlank() ? null : typed.strip();
    }

    private static <T> @Nullable T read(
            String field,
            @Nullable String typed,
            Function<String, T> reader,
            String what,
            List<FieldProblem> problems) {
        String text = text(typed);
        if (text == null) {
            return null;
        }
        try {
            return reader.apply(text);
        } catch (DateTimeException | NumberFormatException e) {
            problems.add(new FieldProblem(field, text, "is not " + what));
            return null;
        }
    }
}
