package io.bathra.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.error.BathraException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.IntPredicate;

/** Threads that enter ships, each as fast as it can. */
final class Clerks {
    private final AtomicInteger acknowledged = new AtomicInteger();
    private final AtomicInteger attempts = new AtomicInteger();
    private final AtomicLong longest = new AtomicLong();
    private final Map<String, AtomicInteger> failures = new ConcurrentHashMap<>();
    private final List<Thread> threads = new ArrayList<>();
    private final String name;
    private volatile boolean stopped;

    private Clerks(String name) {
        this.name = name;
    }

    /** Clerks that work until they are stopped, each with one of the stores. */
    static Clerks begin(String name, int clerks, List<Store> stores, Terms terms) {
        Clerks all = new Clerks(name);
        all.start(clerks, stores, terms, number -> !all.stopped);
        return all;
    }

    /** Clerks that enter so many ships each. */
    static Clerks run(String name, int clerks, List<Store> stores, Terms terms, int each) {
        Clerks all = new Clerks(name);
        all.start(clerks, stores, terms, number -> number < each);
        return all.end();
    }

    private void start(int clerks, List<Store> stores, Terms terms, IntPredicate goesOn) {
        for (int i = 0; i < clerks; i++) {
            Store store = stores.get(i % stores.size());
            String clerk = name + i;
            threads.add(new Thread(() -> work(store, terms, clerk, goesOn), clerk));
        }
        threads.forEach(Thread::start);
    }

    private void work(Store store, Terms terms, String clerk, IntPredicate goesOn) {
        for (int number = 0; goesOn.test(number); number++) {
            int ship = number;
            long begun = System.nanoTime();
            try {
                store.run(terms, work -> {
                    attempts.incrementAndGet();
                    Docks.enter(work, clerk, ship);
                });
                acknowledged.incrementAndGet();
            } catch (BathraException e) {
                String what = words(e);
                for (Throwable suppressed : e.getSuppressed()) {
                    what += "; " + words(suppressed);
                }
                failures.computeIfAbsent(what, any -> new AtomicInteger()).incrementAndGet();
            }
            longest.accumulateAndGet((System.nanoTime() - begun) / 1_000_000, Math::max);
        }
    }

    private static String words(Throwable failure) {
        return failure.getClass().getSimpleName() + ": "
                + String.valueOf(failure.getMessage()).lines().findFirst().orElse("");
    }

    /** Waits until all of them have ended. */
    Clerks end() {
        stopped = true;
        for (Thread thread : threads) {
            try {
                thread.join();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new IllegalStateException(e);
            }
        }
        return this;
    }

    int acknowledged() {
        return acknowledged.get();
    }

    long longestMillis() {
        return longest.get();
    }

    /** Failures that units did not get over, and how often each was seen. */
    Map<String, Integer> failures() {
        Map<String, Integer> all = new TreeMap<>();
        failures.forEach((what, times) -> all.put(what, times.get()));
        return all;
    }

    /** Nobody has seen an exception but those who do their work again. */
    Clerks haveAllSucceeded() {
        assertThat(failures()).as("final failures of %s", name).isEmpty();
        return this;
    }

    @Override
    public String toString() {
        return String.format(
                "%d units acknowledged, %d begun again, the longest took %.1f s, %d final failures%s",
                acknowledged.get(),
                attempts.get() - acknowledged.get(),
                longest.get() / 1e3,
                failures.values().stream().mapToInt(AtomicInteger::get).sum(),
                failures.isEmpty() ? "" : " " + failures());
    }
}
