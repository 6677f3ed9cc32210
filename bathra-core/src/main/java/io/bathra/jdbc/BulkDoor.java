package io.bathra.jdbc;

import io.bathra.access.Doors;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.UniqueKey;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * What the library may do with bulk work, and users may not: begin it somewhere, and look into what they hold of it.
 * Left here by the package of bulk work, once.
 */
public abstract class BulkDoor {
    private static volatile @Nullable BulkDoor door;

    protected BulkDoor() {}

    public static void leave(BulkDoor left) {
        door = left;
    }

    /** The door, after the class that leaves it has been woken. */
    public static BulkDoor open(Class<?> keeper) {
        Doors.wake(keeper);
        return Objects.requireNonNull(door, "no bulk work has been begun yet");
    }

    /** Bulk work on the rows of an entity. */
    public abstract <E> Object bulk(BulkPlace place, Class<E> type);

    /** The unique key that {@code on(...)} names. */
    public abstract UniqueKey keyOf(Object on, ModelEntity<?> entity);
}
