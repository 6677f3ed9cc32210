package io.bathra.junit;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.Condition;
import java.util.concurrent.locks.ReentrantLock;
import org.jspecify.annotations.Nullable;

/**
 * Threads that pass marked points in a given order, so that a lost update or a deadlock comes about the same each time,
 * without sleeping. A thread that comes to a point waits until all earlier points have been passed.
 *
 * <pre>{@code
 * Turns turns = Turns.inOrder("Ada is done", "Bo begins");
 * List<@Nullable Throwable> failures = turns.run(
 *         () -> {
 *             desk.announce("26-000003", "9345678", "Skua", MORNING);
 *             turns.pass("Ada is done");
 *         },
 *         () -> {
 *             turns.pass("Bo begins");
 *             desk.announce("26-000004", "9345678", "Skua", MORNING);
 *         });
 * }</pre>
 */
public final class Turns {
    private static final Duration PATIENCE = Duration.ofSeconds(20);

    private final ReentrantLock lock = new ReentrantLock();
    private final Condition moved = lock.newCondition();
    private final List<String> points;
    private int next;

    /** The threads that have not come to an end, and the points that some of them wait for. */
    private final Map<Thread, String> running = new LinkedHashMap<>();

    private Turns(List<String> points) {
        this.points = points;
    }

    /**
     * {@return the points, in the order in which they are passed}
     *
     * @param points the points
     * @throws IllegalArgumentException when two have one name
     */
    public static Turns inOrder(String... points) {
        List<String> all = List.of(points);
        if (all.stream().distinct().count() < all.size()) {
            throw new IllegalArgumentException("each point has a name of its own: " + all);
        }
        return new Turns(all);
    }

    /**
     * Waits until all earlier points have been passed, and passes this one.
     *
     * @param point the point
     * @throws AssertionError when they never will be: nobody else is left who could, or all others wait as well
     */
    public void pass(String point) {
        int place = points.indexOf(point);
        if (place < 0) {
            throw new IllegalArgumentException("there is no point '" + point + "'; the points are " + points);
        }
        lock.lock();
        try {
            running.replace(Thread.currentThread(), point);
            long left = PATIENCE.toNanos();
            while (next < place) {
                if (isStuck() || left <= 0) {
                    moved.signalAll();
                    throw new AssertionError("'" + point + "' is waited for, but '" + points.get(next)
                            + "' comes before it and has not been passed; waiting: " + waiting());
                }
                left = moved.awaitNanos(Math.min(left, TimeUnit.MILLISECONDS.toNanos(50))) > 0
                        ? left
                        : left - TimeUnit.MILLISECONDS.toNanos(50);
            }
            if (next > place) {
                throw new AssertionError("'" + point + "' has been passed already");
            }
            next++;
            running.replace(Thread.currentThread(), "");
            moved.signalAll();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new AssertionError("interrupted while waiting for '" + point + "'", e);
        } finally {
            lock.unlock();
        }
    }

    /** Everybody who has not come to an end waits for a point that is not the next. */
    private boolean isStuck() {
        return !running.isEmpty()
                && running.values().stream()
                        .allMatch(point -> !point.isEmpty() && !points.get(next).equals(point));
    }

    private List<String> waiting() {
        return running.values().stream().filter(point -> !point.isEmpty()).toList();
    }

    /** A part that runs in a thread of its own. */
    @FunctionalInterface
    public interface Part {
        /**
         * Does its work.
         *
         * @throws java.lang.Exception when that fails
         */
        void run() throws Exception;
    }

    /**
     * Runs each part in a thread of its own, and waits for all of them.
     *
     * @param parts what each does in its turn
     * @return what each part has failed with, in the order of the parts; null for one that has not
     * @throws AssertionError when a part does not come to an end
     */
    public List<@Nullable Throwable> run(Part... parts) {
        @Nullable Throwable[] failures = new Throwable[parts.length];
        List<Thread> threads = new ArrayList<>();
        for (int i = 0; i < parts.length; i++) {
            int number = i;
            Thread thread = new Thread(() -> failures[number] = failure(parts[number]), "part " + (i + 1));
            thread.setDaemon(true);
            threads.add(thread);
            running.put(thread, "");
        }
        threads.forEach(Thread::start);
        for (Thread thread : threads) {
            try {
                thread.join(2 * PATIENCE.toMillis());
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new AssertionError("interrupted while the parts run", e);
            }
            if (thread.isAlive()) {
                throw new AssertionError(thread.getName() + " does not come to an end");
            }
        }
        for (Throwable failure : failures) {
            if (failure instanceof AssertionError error) {
                throw error;
            }
        }
        return Arrays.asList(failures);
    }

    private @Nullable Throwable failure(Part part) {
        try {
            part.run();
            return null;
        } catch (Throwable e) {
            return e;
        } finally {
            lock.lock();
            try {
                running.remove(Thread.currentThread());
                moved.signalAll();
            } finally {
                lock.unlock();
            }
        }
    }
}
