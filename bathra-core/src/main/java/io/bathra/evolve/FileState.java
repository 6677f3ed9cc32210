package io.bathra.evolve;

import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * A change file and a database.
 *
 * @param begunAt when it was begun there, in the database's words; null where it was not
 * @param endedAt when it was done; null where it is not
 * @param by who has applied it: host and process; null where nobody has
 */
public record FileState(
        String name,
        State state,
        @Nullable String begunAt,
        @Nullable String endedAt,
        @Nullable String by) {
    /** What has become of it there. */
    public enum State {
        /** The database has had it. */
        APPLIED,
        /** It has begun, and is not done. */
        BEGUN,
        /** It is still to come. */
        PENDING,
        /** It was changed after it was applied. */
        CHANGED,
        /** The database has had it, and it is not among the files. */
        MISSING;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
