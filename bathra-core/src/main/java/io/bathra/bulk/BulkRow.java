package io.bathra.bulk;

import io.bathra.mapping.StoredAttribute;
import java.util.HashSet;
import java.util.Set;
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

    /** Whether something is wrong with the row as a whole, so that nothing in it can be judged. */
    private boolean unreadable;

    /** The attributes about which something has been told already; nearly always none. */
    private Set<StoredAttribute> flawed = Set.of();

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

    /**
     * Something has been told.
     *
     * @param attribute what it is about; null for the row as a whole
     */
    void flawed(@Nullable StoredAttribute attribute) {
        if (attribute == null) {
            unreadable = true;
        } else {
            flawed = flawed.isEmpty() ? new HashSet<>() : flawed;
            flawed.add(attribute);
        }
    }

    /** Whether nothing more is to be told of an attribute. */
    boolean isFlawed(StoredAttribute attribute) {
        return unreadable || (!flawed.isEmpty() && flawed.contains(attribute));
    }
}
