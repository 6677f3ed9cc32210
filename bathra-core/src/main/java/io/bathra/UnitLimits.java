package io.bathra;

import io.bathra.flush.Unit;
import java.time.Duration;

/**
 * From where on a unit of work is warned of in the log, once: it is meant to be short-lived and small.
 *
 * @param entities how many it tracks
 * @param age how long it has been open
 */
public record UnitLimits(int entities, Duration age) {
    /**
     * Limits.
     *
     * @param entities how many it tracks
     * @param age how long it has been open
     * @throws IllegalArgumentException when one is negative
     */
    public UnitLimits {
        if (entities < 0 || age.isNegative()) {
            throw new IllegalArgumentException("UnitLimits(" + entities + ", " + age + "): a limit is not negative");
        }
    }

    /** A hundred thousand entities, ten minutes. */
    public static final UnitLimits DEFAULT = new UnitLimits(100_000, Duration.ofMinutes(10));

    Unit.Limits inside() {
        return new Unit.Limits(entities, age);
    }
}
