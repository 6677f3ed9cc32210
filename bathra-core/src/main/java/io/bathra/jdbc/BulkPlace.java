package io.bathra.jdbc;

import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import java.time.Clock;
import java.util.List;
import java.util.Set;

/** Where bulk work is done: in a transaction of its own, or in that of a unit of work. The library implements it. */
public interface BulkPlace {
    Mapping model();

    /**
     * Runs a piece of bulk work, and takes all of it back when it fails.
     *
     * @param touched the tables that it reads and writes
     */
    <T> T run(Set<ModelEntity<?>> touched, Work<T> work);

    /**
     * A piece of bulk work.
     *
     * @param <T> the answer
     */
    @FunctionalInterface
    interface Work<T> {
        T with(Transaction transaction, Keys keys);
    }

    /** Draws keys. */
    @FunctionalInterface
    interface Keys {
        /** So many keys, in ascending order. */
        List<Object> draw(ModelEntity<?> entity, int count);
    }

    /** Whether nobody else uses the transaction meanwhile; in a unit of work, the rows themselves may come from it. */
    boolean isAlone();

    /** Gives the time for stamps. */
    Clock clock();
}
