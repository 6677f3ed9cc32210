package io.bathra.flush;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.IntFunction;

/**
 * Keys of sequences that stand for blocks: what one flush leaves of a block serves the next one. Shared by the threads
 * of a store.
 */
final class KeyBlocks {
    private final Map<String, Deque<Long>> left = new HashMap<>();

    /**
     * Takes keys, and draws as many blocks as are missing.
     *
     * @param draw draws values of the sequence; called while no lock is held, since it waits for the database
     */
    List<Long> take(String sequence, int block, int count, IntFunction<List<Long>> draw) {
        List<Long> taken = takeLeft(sequence, count);
        int missing = count - taken.size();
        if (missing > 0) {
            List<Long> drawn = new ArrayList<>();
            for (long first : draw.apply((missing + block - 1) / block)) {
                for (int i = 0; i < block; i++) {
                    drawn.add(first + i);
                }
            }
            taken.addAll(drawn.subList(0, missing));
            putBack(sequence, drawn.subList(missing, drawn.size()));
        }
        return taken.stream().sorted().toList();
    }

    private List<Long> takeLeft(String sequence, int count) {
        List<Long> taken = new ArrayList<>(count);
        synchronized (left) {
            Deque<Long> keys = left.getOrDefault(sequence, new ArrayDeque<>());
            while (taken.size() < count && !keys.isEmpty()) {
                taken.add(keys.poll());
            }
        }
        return taken;
    }

    /** Forgets what is left, since it lags behind keys that are stored. */
    void forget(String sequence) {
        synchronized (left) {
            left.remove(sequence);
        }
    }

    /** Forgets all that is left. */
    void forgetAll() {
        synchronized (left) {
            left.clear();
        }
    }

    private void putBack(String sequence, List<Long> keys) {
        synchronized (left) {
            left.computeIfAbsent(sequence, s -> new ArrayDeque<>()).addAll(keys);
        }
    }
}
