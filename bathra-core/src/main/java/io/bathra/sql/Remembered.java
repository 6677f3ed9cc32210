package io.bathra.sql;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

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

    /** What was made before; null when it was not, or is not remembered any more. */
    @Nullable
    V known(K asked) {
        return made.get(asked);
    }

    /** Remembers what is made now, and gives it back. */
    V keep(K asked, V one) {
        if (made.size() >= most) {
            made.clear();
        }
        made.put(asked, one);
        return one;
    }
}
