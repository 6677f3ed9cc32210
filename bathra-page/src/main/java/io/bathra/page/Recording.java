package io.bathra.page;

import io.bathra.Store;
import io.bathra.trace.Executed;
import io.bathra.trace.StatementListener;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Hears what stores execute while a block runs, by all units and threads. Safe to share between threads.
 *
 * <pre>{@code
 * Recording recording = Recording.of(store);
 * delayAll(recording.store());
 * recording.page("All calls delayed").write(Path.of("delay.html"));
 * }</pre>
 *
 * <p>It holds no values; the latest 100,000 statements are kept.
 */
public final class Recording implements StatementListener, AutoCloseable {
    private static final int MOST = 100_000;

    private final @Nullable Store store;
    private final List<Event> events = new ArrayList<>();
    private int dropped;
    private boolean closed;

    private Recording(@Nullable Store heard) {
        this.store = heard == null ? null : heard.heardBy((StatementListener) this);
    }

    /**
     * Hears what a store executes from now on, as far as it is asked by {@link #store}.
     *
     * @param store the store
     * @return the recording
     */
    public static Recording of(Store store) {
        return new Recording(store);
    }

    /**
     * Hears whoever it is given to: {@code store.heardBy(recording)}.
     *
     * @return the recording
     */
    public static Recording unattached() {
        return new Recording(null);
    }

    /**
     * Hears all stores that the program opens from now on, until it is closed.
     *
     * @return the recording
     * @throws IllegalStateException when another one does so already
     */
    public static Recording ofProgram() {
        Recording recording = new Recording(null);
        ProgramAttendant.begin(recording);
        return recording;
    }

    /**
     * {@return the store that is heard; it shares everything else with the one that was given}
     *
     * @throws IllegalStateException when it was made for no store
     */
    public Store store() {
        if (store == null) {
            throw new IllegalStateException("this recording was made for no store; say Recording.of(store)");
        }
        return store;
    }

    /**
     * {@return what was heard so far, as a page}
     *
     * @param title what stands above the page
     */
    public TracePage page(String title) {
        return TracePage.of(title, events(), dropped());
    }

    /** Forgets what was heard. */
    public synchronized void clear() {
        events.clear();
        dropped = 0;
    }

    /** Hears nothing from now on. What was heard stays. */
    @Override
    public void close() {
        synchronized (this) {
            closed = true;
        }
        ProgramAttendant.end(this);
    }

    @Override
    public @Nullable Ending started(Executed statement) {
        return this::ended;
    }

    private synchronized void ended(Executed statement, @Nullable Throwable failure) {
        if (closed) {
            return;
        }
        if (events.size() == MOST) {
            events.subList(0, MOST / 10).clear();
            dropped += MOST / 10;
        }
        events.add(new Event(
                statement,
                statement.purpose(),
                failure == null ? null : failure.getClass().getSimpleName()));
    }

    private synchronized int dropped() {
        return dropped;
    }

    /** In the order in which they began. */
    private synchronized List<Event> events() {
        List<Event> sorted = new ArrayList<>(events);
        sorted.sort(Comparator.comparing(event -> event.what().start()));
        return sorted;
    }
}
