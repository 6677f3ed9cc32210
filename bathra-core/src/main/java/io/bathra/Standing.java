package io.bathra;

import io.bathra.track.Collector;
import io.bathra.track.Entry;
import org.jspecify.annotations.Nullable;

/** Where an object stands in a unit of work. */
public enum Standing {
    /** Will be inserted by the next flush. */
    NEW,
    /** Equal to its row, as far as this unit knows. */
    CLEAN,
    /** Changed; will be updated by the next flush. */
    DIRTY,
    /** Will be deleted by the next flush. */
    REMOVED,
    /** Unknown to this unit. */
    UNTRACKED;

    /** Where the object of an entry stands; null for an object that has none. */
    static Standing of(@Nullable Entry<?> entry) {
        if (entry == null) {
            return UNTRACKED;
        }
        return switch (entry.state()) {
            case NEW -> NEW;
            case STORED -> Collector.isOrphan(entry) ? REMOVED : entry.isDirty() ? DIRTY : CLEAN;
            case REMOVED -> REMOVED;
            case LOOSE, GONE -> UNTRACKED;
        };
    }
}
