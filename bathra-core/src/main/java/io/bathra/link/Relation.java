package io.bathra.link;

/**
 * A holder for an association: {@link Link} to one entity, {@link Links} to many.
 *
 * @param <T> the entity at the other end
 */
public sealed interface Relation<T> permits Link, Links {
    /** Whether the other end is here, so that visiting it reads nothing. */
    boolean isRead();
}
