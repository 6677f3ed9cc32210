package io.bathra.schema;

import org.jspecify.annotations.Nullable;

/**
 * A table and a copy made from its declaration, both with their expressions in the same words: databases rewrite what
 * they are given, so that only what the same database made of it can be compared.
 *
 * @param live the table that is there
 * @param copy the copy; null where none could be made
 * @param why why there is none
 */
public record Twin(
        LiveTable live, @Nullable LiveTable copy, @Nullable String why) {
    /** There is a copy. */
    public static Twin of(LiveTable live, LiveTable copy) {
        return new Twin(live, copy, null);
    }

    /** There is none. */
    public static Twin none(LiveTable live, String why) {
        return new Twin(live, null, why);
    }
}
