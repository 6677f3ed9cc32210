package io.bathra.flush;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.IntFunction;

/**
 * Keys that were drawn and not used: what is left of blocks of a sequence, and keys that are drawn ahead, so that the
 * next flush need not wait for its own. What is drawn ahead doubles while it is used up within a second, and halves
 * when it lasts longer. Shared by the threads of a store.
 */
final class KeyBlocks {
    private static final long BUSY_NANOS = 1_000_000_000;

    private final Map<String, Stock> stocks = new HashMap<>();

    /** Generators that have given a key which somebody else has. */
    private final Set<String> suspects = ConcurrentHashMap.newKeySet();

    /** The keys of one generator. */
    private static final class Stock {
        private final TreeSet<Long> keys = new TreeSet<>();
        private int ahead;
        private long drawn = System.nanoTime() - BUSY_NANOS;

        List<Long> take(int count, long above) {
            List<Long> taken = new ArrayList<>(count);
            while (taken.size() < count) {
                Long next = keys.higher(above);
                if (next == null) {
                    break;
                }
                keys.remove(next);
                taken.add(next);
            }
            return taken;
        }

        /** Whether there are so many at hand. */
        boolean has(int count, long above) {
            return keys.size() >= count
                    && (keys.first() > above || keys.tailSet(above, false).size() >= count);
        }

        /** How many are to be drawn ahead now. */
        int more(int most) {
            long now = System.nanoTime();
            ahead = now - drawn < BUSY_NANOS ? ahead * 2 : ahead / 2;
            ahead = Math.max(1, Math.min(most, ahead));
            drawn = now;
            return ahead;
        }
    }

    private synchronized Stock stock(String generator) {
        return stocks.computeIfAbsent(generator, one -> new Stock());
    }

    /**
     * Takes keys, and draws those that are missing.
     *
     * @param above the keys are greater than this one
     * @param mostAhead how many may be drawn ahead; 0 for none
     * @param draw draws so many keys, or more; called while no lock is held, since it waits for the database
     * @return the keys, in ascending order
     */
    List<Long> take(String generator, int count, long above, int mostAhead, IntFunction<List<Long>> draw) {
        Stock stock = stock(generator);
        List<Long> taken;
        int missing;
        int more = 0;
        synchronized (stock) {
            taken = stock.take(count, above);
            missing = count - taken.size();
            if (missing > 0 && mostAhead > 0) {
                more = stock.more(mostAhead);
            }
        }
        if (missing > 0) {
            List<Long> drawn = new ArrayList<>(draw.apply(missing + more));
            drawn.sort(null);
            taken.addAll(drawn.subList(0, missing));
            add(generator, drawn.subList(missing, drawn.size()));
            taken.sort(null);
        }
        return taken;
    }

    /** How many keys have to be drawn now, with those that are drawn ahead; 0 where there are enough. */
    int lacking(String generator, int count, long above, int mostAhead) {
        Stock stock = stock(generator);
        synchronized (stock) {
            if (stock.has(count, above)) {
                return 0;
            }
            return count + (mostAhead > 0 ? stock.more(mostAhead) : 0);
        }
    }

    /** How many keys are to be drawn ahead, since what is left would not do for as many as before; 0 for none. */
    int missing(String generator, int count, int mostAhead) {
        Stock stock = stock(generator);
        synchronized (stock) {
            return mostAhead > 0 && stock.keys.size() < Math.min(count, mostAhead)
                    ? Math.max(stock.more(mostAhead), Math.min(count, mostAhead))
                    : 0;
        }
    }

    /** Keeps keys for later. */
    void add(String generator, List<Long> keys) {
        if (!keys.isEmpty()) {
            Stock stock = stock(generator);
            synchronized (stock) {
                stock.keys.addAll(keys);
            }
        }
    }

    /** Forgets what is left, since it lags behind keys that are stored. */
    synchronized void forget(String generator) {
        stocks.remove(generator);
    }

    /** A generator has given a key that somebody else has: what is left of it is not to be trusted either. */
    void suspect(String generator) {
        suspects.add(generator);
    }

    /** Whether a generator is to be moved on before anything is drawn; what is left of it is forgotten then. */
    boolean isToMoveOn(String generator) {
        if (suspects.isEmpty() || !suspects.remove(generator)) {
            return false;
        }
        forget(generator);
        return true;
    }

    /** Forgets all that is left. */
    synchronized void forgetAll() {
        stocks.clear();
    }
}
