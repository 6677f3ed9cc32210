package io.bathra.question;

import io.bathra.access.Doors;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * What the rooms of the library may do with what users hold, and users may not: look into conditions and orderings, and
 * make queries that somebody answers. Left here by the package of queries, once.
 */
public abstract class QueryDoor {
    private static volatile @Nullable QueryDoor door;

    protected QueryDoor() {}

    public static void leave(QueryDoor left) {
        door = left;
    }

    /** The door; there as soon as a condition, an ordering or a query class has been used. */
    public static QueryDoor here() {
        return Objects.requireNonNull(door, "no query has been made yet");
    }

    /** The door, after the class that leaves it has been woken. */
    public static QueryDoor open(Class<?> keeper) {
        Doors.wake(keeper);
        return here();
    }

    /** What a condition means. */
    public abstract SearchCondition meaning(Object condition);

    /** What an ordering means. */
    public abstract SortKey sortKey(Object ordering);

    /** What an assignment does. */
    public abstract SetClause setClause(Object assignment);

    /** A query of everything of a class, which these answers will answer. */
    public abstract <E> Object query(Class<E> type, Answers answers);
}
