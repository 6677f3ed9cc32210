package io.bathra.bulk;

import io.bathra.jdbc.BulkDoor;
import io.bathra.jdbc.BulkPlace;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.UniqueKey;

/** Lets the library begin bulk work, and look behind what users hold of it. */
final class Door extends BulkDoor {
    private Door() {}

    static void leave() {
        leave(new Door());
    }

    @Override
    public <E> Object bulk(BulkPlace place, Class<E> type) {
        return Bulk.of(place, type);
    }

    @Override
    public UniqueKey keyOf(Object on, ModelEntity<?> entity) {
        return ((On<?>) on).keyOf(entity);
    }
}
