package io.bathra.trace;

import org.jspecify.annotations.Nullable;

/**
 * Hears what becomes of the units of work of a store. Called on the thread of the unit, which waits meanwhile; nothing
 * may be done with the unit from here. What is thrown here is logged, and disturbs nobody.
 */
public interface StoreListener {
    /**
     * A unit of work, as far as it has come.
     *
     * @param number its number, from 1 in each store; the same as in {@link Executed#unit}
     * @param readOnly whether it writes nothing
     * @param guest whether it works in somebody else's transaction
     * @param tracked how many entities it tracks
     * @param inserted rows that its flushes have inserted since the last commit, or with it
     * @param updated rows that they have updated
     * @param deleted rows that they have deleted
     */
    record Unit(long number, boolean readOnly, boolean guest, int tracked, int inserted, int updated, int deleted) {}

    /**
     * It has begun; no transaction was needed so far.
     *
     * @param unit the unit
     */
    default void begun(Unit unit) {}

    /**
     * It is about to look for changes, and to write them.
     *
     * @param unit the unit
     */
    default void flushing(Unit unit) {}

    /**
     * Its changes are written, if there were any.
     *
     * @param unit the unit
     */
    default void flushed(Unit unit) {}

    /**
     * Its changes were not written; the objects are as before. The failure's message may name a value.
     *
     * @param unit the unit
     * @param failure why it has failed
     */
    default void flushFailed(Unit unit, Throwable failure) {}

    /**
     * Its transaction is committed; of a guest, its host has said so.
     *
     * @param unit the unit
     */
    default void committed(Unit unit) {}

    /**
     * Its transaction is rolled back, or was given up, with all that was written in it.
     *
     * @param unit the unit
     */
    default void rolledBack(Unit unit) {}

    /**
     * It is closed.
     *
     * @param failure what has broken it, so that nothing but closing was left; null for nothing
     * @param unit the unit
     */
    default void closed(Unit unit, @Nullable Throwable failure) {}
}
