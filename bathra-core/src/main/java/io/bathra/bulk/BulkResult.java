package io.bathra.bulk;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * What has become of the rows of one bulk call.
 *
 * @param rows how many were given
 * @param inserted how many are there now that were not
 * @param updated how many were there, and were changed
 * @param unchanged how many were there as they should be
 * @param skipped how many were left out, since another row has their unique values, in the database or in the same call
 * @param rejected how many could not be stored
 * @param removed how many pairs were taken away
 * @param keys the key of each row in the order of the rows, null for those that were rejected; empty unless asked for
 * @param time how long it took
 * @param paths the ways in which rows were given to the database: {@code copy}, {@code arrays}, {@code multi-row},
 * {@code batch}
 */
public record BulkResult(
        long rows,
        long inserted,
        long updated,
        long unchanged,
        long skipped,
        long rejected,
        long removed,
        List<@Nullable Object> keys,
        Duration time,
        Set<String> paths) {
    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param rows how many were given
     * @param inserted how many are there now that were not
     * @param updated how many were there, and were changed
     * @param unchanged how many were there as they should be
     * @param skipped how many were left out, since another row has their unique values, in the database or in the
     *     same call
     * @param rejected how many could not be stored
     * @param removed how many pairs were taken away
     * @param keys the key of each row in the order of the rows, null for those that were rejected; empty unless
     *     asked for
     * @param time how long it took
     * @param paths the ways in which rows were given to the database: {@code copy}, {@code arrays}, {@code
     *     multi-row}, {@code batch}
     */
    public BulkResult {
        keys = Collections.unmodifiableList(new ArrayList<>(keys));
        paths = Collections.unmodifiableSet(new TreeSet<>(paths));
    }

    /** In words: {@code 1,000 rows: 900 inserted, 100 unchanged, in 0.2 s (copy)}. */
    @Override
    public String toString() {
        List<String> words = new ArrayList<>();
        add(words, inserted, "inserted");
        add(words, updated, "updated");
        add(words, unchanged, "unchanged");
        add(words, skipped, "skipped");
        add(words, removed, "removed");
        add(words, rejected, "rejected");
        return String.format(
                Locale.ROOT,
                "%,d rows: %s, in %.1f s (%s)",
                rows,
                words.isEmpty() ? "nothing to do" : String.join(", ", words),
                time.toNanos() / 1e9,
                paths.isEmpty() ? "nothing written" : String.join(", ", paths));
    }

    private static void add(List<String> words, long count, String what) {
        if (count > 0) {
            words.add(String.format(Locale.ROOT, "%,d %s", count, what));
        }
    }
}
