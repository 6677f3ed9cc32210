package io.bathra.sql;

import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;

/** Expressions of H2. */
final class H2Expressions extends Expressions {
    H2Expressions(Dialect dialect) {
        super(dialect);
    }

    /** It adds what it has found before again and again, until the memory is full. */
    @Override
    boolean endsRecursion() {
        return false;
    }

    @Override
    String inZone(String instant, ZoneId zone) {
        return "(" + instant + " at time zone "
                + textLiteral(
                        zone.normalized() instanceof ZoneOffset offset
                                ? offset == ZoneOffset.UTC ? "UTC" : offset.getId()
                                : zone.getId())
                + ")";
    }

    /** Thousands of selects in one another are too deep for it. */
    @Override
    String andRows(List<String> rows) {
        return rows.isEmpty() ? "" : " union all values (" + String.join("), (", rows) + ")";
    }

    @Override
    String isNumber(String text, boolean whole) {
        return "regexp_like(" + text + ", " + numberPattern(whole) + ")";
    }

    /** Long texts become numbers by way of short ones only. */
    @Override
    String number(String text) {
        return super.number("cast(" + text + " as varchar)");
    }
}
