package io.bathra.bulk;

import org.jspecify.annotations.Nullable;

/** A row on its way into the database. */
final class BulkRow {
    /** Its number in the call, counted from 1. */
    final long number;

    /** What it was made of. */
    final Object source;

    /** Its values by slot, in the form that is stored. */
    final @Nullable Object[] values;

    /** Whether its key was drawn for it, and not given. */
    boolean keyDrawn;

    private boolean rejected;

    BulkRow(long number, Object source, @Nullable Object[] values) {
        this.number = number;
        this.source = source;
        this.values = values;
    }

    boolean isRejected() {
        return rejected;
    }

    void reject() {
        rejected = true;
    }
}
