package io.bathra.ledger;

import java.time.Duration;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * What is to be applied, and how.
 *
 * @param until the last file; null for all
 * @param losing the files that may lose rows or values
 * @param claimed how long to wait for somebody else who applies changes
 * @param locked how long to try to get a lock, again and again for a moment each
 */
public record Order(@Nullable String until, Set<String> losing, Duration claimed, Duration locked) {
    public Order {
        losing = Set.copyOf(losing);
    }
}
