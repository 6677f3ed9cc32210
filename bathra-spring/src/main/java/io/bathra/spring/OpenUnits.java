package io.bathra.spring;

import io.bathra.trace.StoreListener;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/** The units of work of a store that are open, as far as they have come. */
public final class OpenUnits implements StoreListener {
    private final Map<Long, Open> open = new ConcurrentHashMap<>();

    private record Open(Unit unit, Instant begun, String thread) {}

    /**
     * A unit that is open.
     *
     * @param number its number in its store, the same as in the log of statements
     * @param openFor how long it has been open
     * @param thread the thread that has begun it
     * @param hosted whether it is in one of Spring's transactions
     * @param readOnly whether it writes nothing
     * @param tracked how many entities it had when it was last heard of: at its beginning, or around a flush
     * @param written how many rows its flushes have written since the last commit
     */
    public record OpenUnit(
            long number, Duration openFor, String thread, boolean hosted, boolean readOnly, int tracked, int written) {}

    OpenUnits() {}

    /** {@return those that are open now, the oldest first} */
    public List<OpenUnit> list() {
        Instant now = Instant.now();
        return open.values().stream()
                .sorted(Comparator.comparing(Open::begun))
                .map(one -> new OpenUnit(
                        one.unit.number(),
                        Duration.between(one.begun, now),
                        one.thread,
                        one.unit.guest(),
                        one.unit.readOnly(),
                        one.unit.tracked(),
                        one.unit.inserted() + one.unit.updated() + one.unit.deleted()))
                .toList();
    }

    @Override
    public void begun(Unit unit) {
        open.put(
                unit.number(),
                new Open(unit, Instant.now(), Thread.currentThread().getName()));
    }

    @Override
    public void flushed(Unit unit) {
        heardOf(unit);
    }

    @Override
    public void committed(Unit unit) {
        heardOf(unit);
    }

    @Override
    public void rolledBack(Unit unit) {
        heardOf(unit);
    }

    private void heardOf(Unit unit) {
        open.computeIfPresent(unit.number(), (number, one) -> new Open(unit, one.begun, one.thread));
    }

    @Override
    public void closed(Unit unit, @Nullable Throwable failure) {
        open.remove(unit.number());
    }
}
