package io.bathra.read;

import io.bathra.error.BathraException;
import io.bathra.sql.Select;
import org.jspecify.annotations.Nullable;

/**
 * A select, ready to be executed.
 *
 * @param overlaid the pending rows that it sees; null for none
 */
record Prepared(Select select, @Nullable Overlaid overlaid) {
    /** For an answer that cannot show pending objects as themselves. */
    void refuseOverlay(String words, String what) {
        if (overlaid != null) {
            throw new BathraException(words + " sees pending changes by an overlay, which " + what
                    + " cannot show as themselves; flush first, or ask with Pending.FLUSH or IGNORE");
        }
    }
}
