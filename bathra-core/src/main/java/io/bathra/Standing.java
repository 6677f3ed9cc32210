package io.bathra;

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
    UNTRACKED
}
