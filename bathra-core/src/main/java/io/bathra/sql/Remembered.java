package io.bathra.sql;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;

/**
 * What was made for a question, to be found again. Programs ask few different ones; of one that makes them up as it goes
 * all is made anew now and then. Thread-safe: two that ask at once may make the same.
 */
final class Remembered<K, V> {
    private final int most;
    private final Map<K, V> made = new ConcurrentHashMap<>();

    /**
     * @param most how much is remembered
     */
    Remembered(int most) {
        this.most = most;
    }

    V get(K asked, Supplier<V> maker) {
        V known = made.get(asked);
        if (known == null) {
            known = maker.get();
            if (made.size() >= most) {
                made.clear();
            }
            made.put(asked, known);
        }
        return known;
    }
}
