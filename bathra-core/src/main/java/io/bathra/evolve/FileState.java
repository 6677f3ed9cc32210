package io.bathra.evolve;

import java.time.Duration;
import java.time.Instant;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * A change file and a database.
 *
 * @param begunAt when it was begun there, by the clock of the store that has applied it; null where it was not
 * @param endedAt when it was done; null where it is not
 * @param by who has applied it: host and process; null where nobody has
 */
public record FileState(
        String name,
        State state,
        @Nullable Instant begunAt,
        @Nullable Instant endedAt,
        @Nullable String by) {
    /** {@return how long it took, with the time in which nobody worked on it; empty where it is not done} */
    public Optional<Duration> took() {
        return begunAt == null || endedAt == null ? Optional.empty() : Optional.of(Duration.between(begunAt, endedAt));
    }

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
