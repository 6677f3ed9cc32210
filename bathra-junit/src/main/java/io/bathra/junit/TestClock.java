package io.bathra.junit;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.concurrent.atomic.AtomicReference;

/** A clock in UTC that stands still until it is set. Safe to share between threads. */
public final class TestClock extends Clock {
    private final AtomicReference<Instant> now;

    TestClock(Instant now) {
        this.now = new AtomicReference<>(now);
    }

    /**
     * Sets the time, back as well.
     *
     * @param time the time at which it stands
     */
    public void set(Instant time) {
        now.set(time);
    }

    /**
     * Moves the time on; back by a negative duration.
     *
     * @param duration how long
     */
    public void advance(Duration duration) {
        now.updateAndGet(time -> time.plus(duration));
    }

    @Override
    public Instant instant() {
        return now.get();
    }

    @Override
    public ZoneId getZone() {
        return ZoneOffset.UTC;
    }

    @Override
    public Clock withZone(ZoneId zone) {
        TestClock here = this;
        return new Clock() {
            @Override
            public ZoneId getZone() {
                return zone;
            }

            @Override
            public Clock withZone(ZoneId other) {
                return here.withZone(other);
            }

            @Override
            public Instant instant() {
                return here.instant();
            }
        };
    }

    @Override
    public String toString() {
        return "TestClock(" + now.get() + ")";
    }
}
