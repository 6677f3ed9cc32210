package io.bathra.sql;

import java.time.Instant;
import java.time.ZoneId;
import java.time.zone.ZoneOffsetTransition;
import java.time.zone.ZoneRules;
import java.util.function.Function;

/** The offsets of a zone from UTC, for databases that know no zones. */
final class Offsets {
    private static final Instant FIRST = Instant.parse("1970-01-01T00:00:00Z");
    private static final Instant LAST = Instant.parse("2100-01-01T00:00:00Z");

    private Offsets() {}

    /**
     * The offset in seconds that holds at an instant; before 1970 and after 2100 the one that holds then.
     *
     * @param literal how a moment is written, to be compared with the instant
     */
    static String seconds(ZoneId zone, String instant, Function<Instant, String> literal) {
        ZoneRules rules = zone.getRules();
        if (rules.isFixedOffset()) {
            return String.valueOf(rules.getOffset(FIRST).getTotalSeconds());
        }
        StringBuilder cases = new StringBuilder("(case");
        ZoneOffsetTransition next = rules.nextTransition(FIRST);
        while (next != null && next.getInstant().isBefore(LAST)) {
            cases.append(" when ")
                    .append(instant)
                    .append(" < ")
                    .append(literal.apply(next.getInstant()))
                    .append(" then ")
                    .append(next.getOffsetBefore().getTotalSeconds());
            next = rules.nextTransition(next.getInstant());
        }
        return cases.append(" else ")
                .append(rules.getOffset(LAST).getTotalSeconds())
                .append(" end)")
                .toString();
    }
}
