package io.bathra.evolve;

import io.bathra.ledger.Order;
import java.time.Duration;
import java.util.LinkedHashSet;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Which files are to be applied, and how long to wait for others. Immutable. */
public final class ApplyTerms {
    /** All files, none of which may lose anything; others who apply are waited for up to ten minutes, locks up to two. */
    public static final ApplyTerms ALL = new ApplyTerms(null, Set.of(), Duration.ofMinutes(10), Duration.ofMinutes(2));

    private final @Nullable String until;
    private final Set<String> losing;
    private final Duration waiting;
    private final Duration locked;

    private ApplyTerms(@Nullable String until, Set<String> losing, Duration waiting, Duration locked) {
        this.until = until;
        this.losing = Set.copyOf(losing);
        this.waiting = waiting;
        this.locked = locked;
    }

    /**
     * {@return the same up to a file, which is the last one}
     *
     * @param file the file
     */
    public ApplyTerms until(String file) {
        return new ApplyTerms(Objects.requireNonNull(file, "file"), losing, waiting, locked);
    }

    /**
     * {@return the same with a file that may lose rows or values}
     *
     * @param file the file
     */
    public ApplyTerms losing(String file) {
        Set<String> more = new LinkedHashSet<>(losing);
        more.add(Objects.requireNonNull(file, "file"));
        return new ApplyTerms(until, more, waiting, locked);
    }

    /**
     * {@return the same with another limit on waiting for somebody else who applies changes}
     *
     * @param longest how long, at least a millisecond
     */
    public ApplyTerms waiting(Duration longest) {
        return new ApplyTerms(until, losing, Objects.requireNonNull(longest, "longest"), locked);
    }

    /**
     * {@return the same with another limit on trying to get a lock, which is asked for again and again, for a moment
     * each}
     *
     * @param longest how long, at least a millisecond
     */
    public ApplyTerms locked(Duration longest) {
        return new ApplyTerms(until, losing, waiting, Objects.requireNonNull(longest, "longest"));
    }

    Order order() {
        return new Order(until, losing, waiting, locked);
    }
}
