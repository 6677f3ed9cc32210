package io.bathra.bulk;

import io.bathra.error.BathraException;
import java.time.Duration;
import java.util.Iterator;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Takes what a call is given one after the other, and ends a portion whenever it is full. */
final class PortionLoop {
    private final String what;
    private final Bulk.Options options;
    private final Rejects rejects;
    private final long start = System.nanoTime();

    /**
     * @param what what is taken, in words
     */
    PortionLoop(String what, Bulk.Options options, Rejects rejects) {
        this.what = what;
        this.options = options;
        this.rejects = rejects;
    }

    /** Takes one after the other. */
    interface Taker<T> {
        /** Takes the one of a number, from 1; tells how large the portion has become. */
        int take(long number, T one);

        /** The portion is full, or nothing more comes. */
        void end();

        /** Nothing more comes. */
        default void finish() {}

        /** All is done, or something has failed. */
        default void close() {}
    }

    /**
     * Takes all.
     *
     * @param takers makes the taker, given the first one
     * @return how many there were
     */
    <T> long run(Iterator<? extends T> all, Function<T, Taker<T>> takers) {
        if (!all.hasNext()) {
            return 0;
        }
        T one = checked(1, all.next());
        Taker<T> taker = takers.apply(one);
        try {
            for (long number = 1; ; number++) {
                int size = taker.take(number, one);
                boolean last = !all.hasNext();
                if (last || size >= options.rowsOfPortion()) {
                    taker.end();
                    rejects.endOfPortion();
                    options.progress().accept(new BulkProgress(number, rejects.count(), elapsed()));
                }
                if (last) {
                    taker.finish();
                    return number;
                }
                one = checked(number + 1, all.next());
            }
        } finally {
            taker.close();
        }
    }

    private <T> T checked(long number, @Nullable T one) {
        if (one == null) {
            throw new BathraException(what + " " + number + " is null; leave it out");
        }
        return one;
    }

    /** The time since the call began. */
    Duration elapsed() {
        return Duration.ofNanos(System.nanoTime() - start);
    }
}
