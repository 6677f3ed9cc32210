package io.bathra.read;

import io.bathra.error.BathraException;
import io.bathra.sql.Select;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * A select, ready to be executed.
 *
 * @param overlaid the pending rows that it sees; null for none
 */
record Prepared(Select select, @Nullable Overlaid overlaid) {
    /** For an answer that cannot show pending objects as themselves. */
    void refuseOverlay(Supplier<String> words, String what) {
        if (overlaid != null) {
            throw new BathraException(words.get() + " sees pending changes by an overlay, which " + what
                    + " cannot show as themselves; flush first, or ask with Pending.FLUSH or IGNORE");
        }
    }
}
