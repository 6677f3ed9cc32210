package io.bathra.flush;

import java.security.SecureRandom;
import java.time.Clock;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicLong;

/**
 * UUIDs of version 7: 48 bits of milliseconds, 12 bits that count within one, 62 random bits. Those that one store
 * makes ascend strictly, also when the clock stands still or goes back.
 *
 * <p>K. Davis, B. Peabody, P. Leach, "Universally Unique IDentifiers (UUIDs)", RFC 9562, 2024, sections 5.7 and 6.2.
 */
final class TimeOrderedUuids {
    private static final int COUNTER_BITS = 12;
    private static final long VERSION = 7L << COUNTER_BITS;
    private static final long VARIANT = 1L << 63;
    private static final long RANDOM = -1L >>> 2;

    /** Made when the first one is wanted, since it takes a program that starts a while. */
    private static final class Source {
        private static final SecureRandom RANDOM = new SecureRandom();
    }

    /** Milliseconds and counter of the latest one. */
    private final AtomicLong latest = new AtomicLong();

    UUID next(Clock clock) {
        long now = clock.millis() << COUNTER_BITS;
        long time = latest.updateAndGet(before -> Math.max(before + 1, now));
        long counter = time & ((1L << COUNTER_BITS) - 1);
        long high = (time >>> COUNTER_BITS) << 16 | VERSION | counter;
        return new UUID(high, VARIANT | (Source.RANDOM.nextLong() & RANDOM));
    }
}
