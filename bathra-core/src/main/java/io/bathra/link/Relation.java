package io.bathra.link;

/**
 * A holder of what is read when it is visited: {@link Link} to one entity, {@link Links} to many, {@link Later} to a
 * large value.
 *
 * @param <T> the entity at the other end, or the value
 */
public sealed interface Relation<T> permits Link, Links, Later {
    /** {@return whether it is here, so that visiting it reads nothing} */
    boolean isRead();
}
