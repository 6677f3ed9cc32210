package io.bathra.track;

import java.util.BitSet;
import org.jspecify.annotations.Nullable;

/**
 * One row to be written. Values stand in the slots of the entity's stored attributes; a link to a row whose key is not
 * known yet is the {@link Entry} of that row.
 */
public sealed interface Change {
    Entry<?> entry();

    record Insert(Entry<?> entry, @Nullable Object[] values) implements Change {}

    /**
     * The slots in {@code changed} differ from the snapshot.
     *
     * @param temporary whether the values stand there only until a later step of the same flush, to break a ring
     */
    record Update(Entry<?> entry, BitSet changed, @Nullable Object[] values, boolean temporary) implements Change {
        /** A change of the user's. */
        public Update(Entry<?> entry, BitSet changed, @Nullable Object[] values) {
            this(entry, changed, values, false);
        }
    }

    record Delete(Entry<?> entry) implements Change {}
}
