package io.bathra.flush;

import io.bathra.trace.StatementListener;
import io.bathra.trace.StatementListener.Ending;
import io.bathra.trace.StoreListener;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Tells several listeners as if they were one. A failure of one keeps no other from being told. */
final class Listeners {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra");

    private Listeners() {}

    /** The one that came first is told of beginnings first, and of ends last. */
    static StatementListener both(StatementListener first, StatementListener second) {
        return statement -> {
            Ending outer = guarded(() -> first.started(statement));
            Ending inner = guarded(() -> second.started(statement));
            return outer == null || inner == null
                    ? outer == null ? inner : outer
                    : (ended, failure) -> {
                        guarded(() -> {
                            inner.ended(ended, failure);
                            return null;
                        });
                        outer.ended(ended, failure);
                    };
        };
    }

    private interface Told {
        @Nullable
        Ending tell();
    }

    private static @Nullable Ending guarded(Told told) {
        try {
            return told.tell();
        } catch (RuntimeException e) {
            LOG.warn("a listener of statements has failed", e);
            return null;
        }
    }

    /** Tells a listener of units; its failure disturbs nobody. */
    static void tell(StoreListener listener, Consumer<StoreListener> what) {
        try {
            what.accept(listener);
        } catch (RuntimeException e) {
            LOG.warn("a listener of units of work has failed", e);
        }
    }

    static StoreListener both(StoreListener first, StoreListener second) {
        return new StoreListener() {
            private void each(Consumer<StoreListener> what) {
                tell(first, what);
                tell(second, what);
            }

            @Override
            public void begun(Unit unit) {
                each(one -> one.begun(unit));
            }

            @Override
            public void flushing(Unit unit) {
                each(one -> one.flushing(unit));
            }

            @Override
            public void flushed(Unit unit) {
                each(one -> one.flushed(unit));
            }

            @Override
            public void flushFailed(Unit unit, Throwable failure) {
                each(one -> one.flushFailed(unit, failure));
            }

            @Override
            public void committed(Unit unit) {
                each(one -> one.committed(unit));
            }

            @Override
            public void rolledBack(Unit unit) {
                each(one -> one.rolledBack(unit));
            }

            @Override
            public void closed(Unit unit, @Nullable Throwable failure) {
                each(one -> one.closed(unit, failure));
            }
        };
    }
}
