package io.bathra.plan;

import io.bathra.mapping.Years;

/**
 * What a plan may expect of the database.
 *
 * @param lateForeignKeys whether foreign keys that are declared so can be checked at the end of a flush
 * @param lateUniques whether unique constraints that are declared so can
 * @param deepCascades whether its own cascade takes a table that leads to itself, whatever the depth
 * @param years those of dates and times
 */
public record Abilities(boolean lateForeignKeys, boolean lateUniques, boolean deepCascades, Years years) {
    /** What every database can. */
    public static final Abilities FEWEST = new Abilities(false, false, false, new Years(1, 9999));
}
