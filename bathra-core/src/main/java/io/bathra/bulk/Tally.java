package io.bathra.bulk;

import java.util.HashSet;
import java.util.Set;

/** Counts what has become of rows. */
final class Tally {
    long inserted;
    long updated;
    long unchanged;
    long skipped;
    long removed;
    final Set<String> paths = new HashSet<>();

    void add(Tally other) {
        inserted += other.inserted;
        updated += other.updated;
        unchanged += other.unchanged;
        skipped += other.skipped;
        removed += other.removed;
        paths.addAll(other.paths);
    }
}
