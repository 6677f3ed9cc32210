package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.error.UnitStateException;
import java.util.function.IntSupplier;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Refuses calls to a unit of work that is closed, broken or busy in another thread, and warns of one that has grown.
 */
final class UnitGuard {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra");

    private final Unit.Limits limits;
    private final IntSupplier tracked;
    private final long opened = System.nanoTime();
    private final long old;
    private boolean warnedOfSize;
    private boolean warnedOfAge;
    private boolean closed;
    private @Nullable BathraException broken;

    /** The thread that is at work with the database. Read by others, which may see it late; one of them will not. */
    private volatile @Nullable Thread busy;

    UnitGuard(Unit.Limits limits, IntSupplier tracked) {
        this.limits = limits;
        this.old = limits.age().toNanos();
        this.tracked = tracked;
    }

    void check() {
        check(true);
    }

    /**
     * Refuses a unit that is closed or busy elsewhere.
     *
     * @param whole whether one that is broken is refused as well
     */
    void check(boolean whole) {
        if (closed) {
            throw new UnitStateException("this unit of work is closed; begin another one with store.begin()", null);
        }
        if (whole && broken != null) {
            throw new UnitStateException(
                    "this unit of work is broken, because "
                            + String.valueOf(broken.getMessage())
                                    .lines()
                                    .findFirst()
                                    .orElse("")
                            + "; close it, and do the work again in a new one",
                    broken);
        }
        Thread other = busy;
        if (other != null && other != Thread.currentThread()) {
            throw new UnitStateException(
                    "this unit of work is used by two threads at once: " + other.getName() + " is at work, and "
                            + Thread.currentThread().getName()
                            + " wants to be; a unit is for one thread, so begin another one",
                    null);
        }
    }

    /** Does something for which no other thread may be in the way. */
    <T extends @Nullable Object> T alone(Supplier<T> work) {
        check();
        Thread before = busy;
        busy = Thread.currentThread();
        try {
            return work.get();
        } finally {
            busy = before;
            warn();
        }
    }

    private void warn() {
        if (!warnedOfSize && tracked.getAsInt() > limits.entities()) {
            warnedOfSize = true;
            LOG.warn(
                    "a unit of work tracks more than {} entities; read large results without tracking, or in several units",
                    limits.entities());
        }
        if (!warnedOfAge && System.nanoTime() - opened > old) {
            warnedOfAge = true;
            LOG.warn(
                    "a unit of work has been open for more than {}; what it has read grows old, so begin a new one for"
                            + " each piece of work",
                    limits.age());
        }
    }

    /** Warns of changes that are about to be lost. */
    static void warnOfLoss(int pending, int written) {
        if (pending + written > 0) {
            LOG.warn(
                    "a unit of work was closed with {} pending changes and {} rows that were flushed and not committed; they"
                            + " are lost. Call commit(), or discard() and rollback() where that is meant",
                    pending,
                    written);
        }
    }

    /** Warns of a guest's changes that were never flushed. */
    static void warnOfLoss(int pending) {
        if (pending > 0) {
            LOG.warn(
                    "a unit of work in somebody else's transaction was closed with {} pending changes that were never"
                            + " flushed; they are lost. Call commit() or flush() before the host commits, or discard()",
                    pending);
        }
    }

    /** Warns of what was to be done after a commit of which nobody has told. */
    static void warnOfSilence(int waiting) {
        if (waiting > 0) {
            LOG.warn(
                    "a unit of work in somebody else's transaction was closed while {} listeners waited to be told of the"
                            + " commit; they are not, since nobody has said by ended(...) how the transaction ended",
                    waiting);
        }
    }

    static boolean warnsOfLoss() {
        return LOG.isWarnEnabled();
    }

    boolean isClosed() {
        return closed;
    }

    boolean isBroken() {
        return broken != null;
    }

    /** What has broken the unit; null for nothing. */
    @Nullable
    BathraException broken() {
        return broken;
    }

    void close() {
        closed = true;
    }

    void breakDown(BathraException cause) {
        broken = cause;
    }
}
