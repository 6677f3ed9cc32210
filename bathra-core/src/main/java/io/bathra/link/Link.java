package io.bathra.link;

import io.bathra.access.Doors;
import io.bathra.access.LinkDoor;
import io.bathra.access.Tie;
import java.util.NoSuchElementException;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * An association to one entity, as a final field of its owner:
 *
 * <pre>{@code
 * private final Link<Vessel> vessel = Link.empty();
 * }</pre>
 *
 * <p>A link that came with its owner from the database holds only the foreign key until it is visited. Then it is read, in
 * one statement for all entities that the same query brought in.
 *
 * <p>From the moment its owner is added to a unit of work, or was read by one, the other side is kept consistent:
 * {@code movement.call().set(call)} shows in {@code call.movements()}. Before that a link is a plain reference.
 *
 * <p>Equality is identity. {@code toString} reads nothing.
 */
public final class Link<T> implements Relation<T> {
    static {
        Doors.leave(new Door());
    }

    private @Nullable T target;
    private @Nullable Object unreadKey;
    private @Nullable Tie tie;
    private int slot;

    private Link() {}

    /** A link to nothing yet. */
    public static <T> Link<T> empty() {
        return new Link<>();
    }

    /** A link to this target. */
    public static <T> Link<T> to(T target) {
        Link<T> link = new Link<>();
        link.target = Objects.requireNonNull(target, "a link to nothing is Link.empty()");
        return link;
    }

    /**
     * The entity at the other end.
     *
     * @throws NoSuchElementException when the link is empty
     * @throws io.bathra.error.UnreadLinkException when it was never read and the unit of work is closed
     */
    public T get() {
        read();
        if (target == null) {
            throw new NoSuchElementException(
                    (tie == null ? "this link" : tie.describe(slot)) + " is empty; ask isEmpty() first, or use find()");
        }
        return target;
    }

    /** The entity at the other end, if there is one. */
    public Optional<T> find() {
        read();
        return Optional.ofNullable(target);
    }

    /** Whether the link leads nowhere. Reads nothing. */
    public boolean isEmpty() {
        return target == null && unreadKey == null;
    }

    /**
     * The foreign key, without reading the target.
     *
     * @return null when the link is empty, when the target has no key yet, and while the owner is unknown to a unit of work
     */
    public @Nullable Object key() {
        if (target != null) {
            return tie == null ? null : tie.keyOf(target);
        }
        return unreadKey;
    }

    @Override
    public boolean isRead() {
        return unreadKey == null;
    }

    /** Points the link to another entity. */
    public void set(T newTarget) {
        move(Objects.requireNonNull(newTarget, "to empty a link, use clear()"));
    }

    /** Makes the link lead nowhere. */
    public void clear() {
        move(null);
    }

    private void move(@Nullable T newTarget) {
        if (newTarget == target && unreadKey == null) {
            return;
        }
        T before = target;
        Object beforeKey = unreadKey;
        target = newTarget;
        unreadKey = null;
        if (tie != null) {
            tie.pointed(slot, before, beforeKey, newTarget);
        }
    }

    private void read() {
        if (unreadKey != null) {
            // An unread key comes from a unit of work alone, which tied the link when it left the key.
            Objects.requireNonNull(tie).read(slot);
        }
    }

    @Override
    public String toString() {
        if (target != null) {
            return "Link(" + target.getClass().getSimpleName() + ")";
        }
        return unreadKey == null ? "Link(empty)" : "Link(key " + unreadKey + ", unread)";
    }

    private static final class Door implements LinkDoor {
        @Override
        public void tie(Object link, @Nullable Tie tie, int slot) {
            of(link).tie = tie;
            of(link).slot = slot;
        }

        @Override
        public boolean isRead(Object link) {
            return of(link).isRead();
        }

        @Override
        public @Nullable Object target(Object link) {
            return of(link).target;
        }

        @Override
        public @Nullable Object unreadKey(Object link) {
            return of(link).unreadKey;
        }

        @Override
        public void point(Object link, @Nullable Object target) {
            of(link).target = target;
            of(link).unreadKey = null;
        }

        @Override
        public void unread(Object link, Object key) {
            of(link).target = null;
            of(link).unreadKey = key;
        }

        @SuppressWarnings("unchecked") // the model has checked the target's class
        private static Link<Object> of(Object link) {
            return (Link<Object>) link;
        }
    }
}
