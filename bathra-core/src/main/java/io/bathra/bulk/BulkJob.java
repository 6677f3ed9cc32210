package io.bathra.bulk;

import io.bathra.jdbc.BulkPlace;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * One call of bulk work on the rows of an entity: what was asked for, and where it is done. Immutable.
 *
 * @param unique the unique key that tells whether a row is there; null where none was named
 * @param updates whether rows that are there are written over, so that not each row has to be complete
 * @param cause the call in words
 */
record BulkJob<E>(
        ModelEntity<E> entity,
        @Nullable UniqueKey unique,
        Bulk.Options options,
        BulkPlace place,
        Transaction transaction,
        BulkPlace.Keys keys,
        boolean updates,
        Rejects rejects,
        String cause) {
    /** Makes the way of writing of a job. */
    @FunctionalInterface
    interface WayMaker {
        /**
         * The way.
         *
         * @param given the attributes that rows give
         * @param written the attributes that a new row is given
         */
        Way of(BulkJob<?> job, List<StoredAttribute> given, List<StoredAttribute> written);
    }
}
