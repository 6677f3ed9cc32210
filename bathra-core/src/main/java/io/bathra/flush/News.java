package io.bathra.flush;

import io.bathra.flush.Written.Counts;
import io.bathra.trace.StoreListener;
import io.bathra.trace.StoreListener.Unit;
import java.util.function.BiConsumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Tells who hears the units of a store what becomes of one. Costs a look at whether there is anybody. */
final class News {
    private final @Nullable StoreListener listener;
    private final Function<Counts, Unit> unit;

    /**
     * @param listener null for nobody
     * @param unit makes what is told of the unit, with the rows that its flushes have written
     */
    News(@Nullable StoreListener listener, Function<Counts, Unit> unit) {
        this.listener = listener;
        this.unit = unit;
    }

    private void tell(Written written, BiConsumer<StoreListener, Unit> what) {
        if (listener != null) {
            Unit facts = unit.apply(written.sum());
            Listeners.tell(listener, one -> what.accept(one, facts));
        }
    }

    /** Whether there is nobody to tell. */
    boolean isSilent() {
        return listener == null;
    }

    void begun() {
        tell(Written.NOTHING, StoreListener::begun);
    }

    void flushing(Written before) {
        tell(before, StoreListener::flushing);
    }

    void flushed(Written written) {
        tell(written, StoreListener::flushed);
    }

    void flushFailed(Written before, Throwable failure) {
        if (listener != null) {
            tell(before, (one, facts) -> one.flushFailed(facts, failure));
        }
    }

    void committed(Written written) {
        tell(written, StoreListener::committed);
    }

    void rolledBack(Written lost) {
        tell(lost, StoreListener::rolledBack);
    }

    void closed(@Nullable Throwable failure) {
        if (listener != null) {
            tell(Written.NOTHING, (one, facts) -> one.closed(facts, failure));
        }
    }
}
