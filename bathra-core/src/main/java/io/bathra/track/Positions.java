package io.bathra.track;

import io.bathra.mapping.PivotAttribute;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Places for the elements of an ordered collection, as numbers with room between them, so that an element that is put
 * in, taken out or moved is one row to write. What already stands in the right order keeps its number: a longest
 * ascending subsequence (C. Schensted, "Longest increasing and decreasing subsequences", Canadian Journal of
 * Mathematics 13, 1961).
 */
final class Positions {
    private static final long GAP = PivotAttribute.GAP;

    private Positions() {}

    /**
     * @param before the number of each element in its new order; null for one that has none yet
     * @return ascending numbers, as many of the given ones as possible
     */
    static long[] of(List<@Nullable Long> before) {
        boolean[] stays = longestAscending(before);
        long[] positions = new long[before.size()];
        long low = 0;
        int at = 0;
        while (at < positions.length) {
            int next = at;
            while (next < positions.length && !stays[next]) {
                next++;
            }
            boolean end = next == positions.length;
            long high = end ? 0 : value(before, next);
            long step = end ? GAP : (high - low) / (next - at + 1);
            if (step < 1 && next > at) {
                return fresh(positions.length);
            }
            for (int i = at; i < next; i++) {
                low += step;
                positions[i] = low;
            }
            if (!end) {
                positions[next] = high;
                low = high;
            }
            at = next + 1;
        }
        return positions;
    }

    private static long value(List<@Nullable Long> before, int index) {
        Long value = before.get(index);
        return value == null ? 0 : value;
    }

    private static long[] fresh(int size) {
        long[] positions = new long[size];
        Arrays.setAll(positions, i -> (i + 1) * GAP);
        return positions;
    }

    private static boolean[] longestAscending(List<@Nullable Long> before) {
        int[] previous = new int[before.size()];
        List<Integer> tails = new ArrayList<>(); // of the ascending sequences of each length, the smallest end
        for (int i = 0; i < before.size(); i++) {
            Long value = before.get(i);
            if (value == null || value < 1) {
                continue;
            }
            int low = 0;
            int high = tails.size();
            while (low < high) {
                int middle = (low + high) >>> 1;
                if (value(before, tails.get(middle)) < value) {
                    low = middle + 1;
                } else {
                    high = middle;
                }
            }
            previous[i] = low == 0 ? -1 : tails.get(low - 1);
            if (low == tails.size()) {
                tails.add(i);
            } else {
                tails.set(low, i);
            }
        }
        boolean[] stays = new boolean[before.size()];
        for (int i = tails.isEmpty() ? -1 : tails.get(tails.size() - 1); i >= 0; i = previous[i]) {
            stays[i] = true;
        }
        return stays;
    }
}
